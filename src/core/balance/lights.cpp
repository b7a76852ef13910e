#include "core/balance/lights.h"

#include "core/color/illuminant.h"
#include "core/color/lab.h"

#include <algorithm>
#include <cmath>

namespace wavechroma {

namespace {

Matrix3 matrixAt(const CameraLights &camera, double cctKelvin)
{
    auto known = camera.matrices;
    std::sort(known.begin(), known.end(),
              [](const auto &a, const auto &b) { return a.cctKelvin < b.cctKelvin; });
    const double mired = 1e6 / cctKelvin;
    for (size_t i = 0; i + 1 < known.size(); ++i) {
        const double warm = 1e6 / known[i].cctKelvin, cool = 1e6 / known[i + 1].cctKelvin;
        if (mired > warm)
            return known[i].cameraFromXyz;
        if (mired >= cool && warm - cool > 1) {
            const double share = (warm - mired) / (warm - cool);
            Matrix3 m;
            for (int k = 0; k < 9; ++k)
                m(k / 3, k % 3) = (1 - share) * known[i].cameraFromXyz(k / 3, k % 3) +
                                  share * known[i + 1].cameraFromXyz(k / 3, k % 3);
            return m;
        }
    }
    return known.back().cameraFromXyz;
}

std::optional<Vector3> plainNeutral(const CameraLights &camera, const Chromaticity &light)
{
    if (camera.matrices.empty())
        return std::nullopt;
    const auto rgb = matrixAt(camera, temperatureOf(light).cctKelvin) * vectorOf(xyzFromChromaticity(light));
    if (!(rgb[0] > 0 && rgb[1] > 0 && rgb[2] > 0))
        return std::nullopt;
    return Vector3{rgb[0] / rgb[1], 1, rgb[2] / rgb[1]};
}

} // namespace

CameraLights cameraLightsOf(const FileColor &color)
{
    CameraLights out;
    for (const auto &m : color.matrices)
        out.matrices.push_back({m.cameraFromXyz, kelvinOfExifCode(m.illuminantCode)});
    return out;
}

std::optional<Vector3> neutralUnder(const CameraLights &camera, const Chromaticity &light)
{
    auto neutral = plainNeutral(camera, light);
    const auto anchored =
        neutral && camera.anchor ? plainNeutral(camera, camera.anchor->first) : std::nullopt;
    if (anchored)
        for (size_t c = 0; c < 3; ++c)
            (*neutral)[c] *= camera.anchor->second[c] / camera.anchor->second[1] / (*anchored)[c];
    return neutral;
}

std::optional<Vector3> multipliersFor(const CameraLights &camera, const Temperature &light)
{
    const auto neutral = neutralUnder(camera, chromaticityFromTemperature(light));
    return neutral ? std::optional(Vector3{1 / (*neutral)[0], 1, 1 / (*neutral)[2]}) : std::nullopt;
}

std::optional<Temperature> temperatureFor(const CameraLights &camera, const Vector3 &multipliers)
{
    const double wantedRed = -std::log(multipliers[0]), wantedBlue = -std::log(multipliers[2]);
    Chromaticity xy = camera.anchor ? camera.anchor->first : chromaticityFromXyz(kD50White);
    const auto missAt = [&](const Chromaticity &at) -> std::optional<std::pair<double, double>> {
        const auto n = neutralUnder(camera, at);
        return n ? std::optional(std::pair(std::log((*n)[0]) - wantedRed, std::log((*n)[2]) - wantedBlue))
                 : std::nullopt;
    };
    for (int round = 0; round < 60; ++round) {
        constexpr double kStep = 1e-5;
        const auto miss = missAt(xy), right = missAt({xy.x + kStep, xy.y}), up = missAt({xy.x, xy.y + kStep});
        if (!miss || !right || !up)
            return std::nullopt;
        const double a = (right->first - miss->first) / kStep, b = (up->first - miss->first) / kStep;
        const double c = (right->second - miss->second) / kStep, d = (up->second - miss->second) / kStep,
                     det = a * d - b * c;
        if (std::abs(det) < 1e-9)
            return std::nullopt;
        double dx = -(d * miss->first - b * miss->second) / det,
               dy = -(a * miss->second - c * miss->first) / det;
        const double size = std::hypot(dx, dy), most = 0.05; // the locus is left by larger steps
        if (size > most) {
            dx *= most / size;
            dy *= most / size;
        }
        xy = {xy.x + dx, xy.y + dy};
        if (size < 1e-9)
            return temperatureOf(xy);
    }
    return std::nullopt;
}

std::vector<LadderRung> ladderOf(const CameraLights &camera,
                                 const std::vector<std::pair<std::string, Temperature>> &more)
{
    std::vector<std::pair<std::string, Temperature>> lights;
    const auto named = [&](const char *words, const char *name) {
        lights.emplace_back(words, temperatureOf(lightFromName(name)->xy));
    };
    named("Tungsten (A)", "A");
    lights.emplace_back("Studio tungsten", Temperature{3200, 0});
    lights.emplace_back("White LED", Temperature{4000, 0});
    named("Daylight, D50", "D50");
    named("Daylight, D55", "D55");
    named("Strobe", "5600K");
    named("Overcast, D65", "D65");
    named("Shade, D75", "D75");
    lights.insert(lights.end(), more.begin(), more.end());
    std::vector<LadderRung> out;
    for (const auto &[name, light] : lights)
        if (const auto multipliers = multipliersFor(camera, light))
            out.push_back({name, light, *multipliers});
    std::stable_sort(out.begin(), out.end(),
                     [](const auto &a, const auto &b) { return a.light.cctKelvin < b.light.cctKelvin; });
    return out;
}

Vector3 leaned(const Vector3 &multipliers, const Lean &lean, const Matrix3 &xyzFromBalanced)
{
    const auto back = inverse(xyzFromBalanced);
    if (!back || lean == Lean{})
        return multipliers;
    const Vector3 grey = *back * vectorOf(xyzFromLab({65, 0, 0})),
                  wanted = *back * vectorOf(xyzFromLab({65, lean.rosier, lean.warmer}));
    Vector3 out{};
    for (size_t c = 0; c < 3; ++c)
        out[c] = multipliers[c] * std::max(0.05, wanted[c] / grey[c]);
    return {out[0] / out[1], 1, out[2] / out[1]};
}

} // namespace wavechroma
