// Calibrations made from imperfect readings, judged on unseen colours: every camera under every lamp, trained on one noisy
// reading of 24 patches with an uneven light, flare, covered patches or glare, and judged on 320 reflectances that no fit saw.
// Ratios are against the same fit of the clean chart, and against plain weighted least squares. wavechroma-bench-fit [seeds]
#include "core/color/de2000.h"
#include "core/color/illuminant.h"
#include "core/color/lab.h"
#include "core/fit/fit.h"
#include "core/fit/fit_matrix.h"
#include "core/sim/random.h"
#include "core/sim/reflectance.h"
#include "core/sim/studio.h"

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <fmt/format.h>
#include <functional>
#include <map>

using namespace wavechroma;

namespace {

const ChartDefinition &chart()
{
    return chartCatalogue().front();
}

struct Unseen {
    Spectrum reflectance;
    Lab lab;
};

std::vector<Unseen> unseenColours(int count)
{
    sim::Random random(20261);
    std::vector<Unseen> out;
    while (int(out.size()) < count) {
        const double hue = random.uniform(0, 6.2832), chroma = 75 * std::sqrt(random.uniform(0, 1));
        const Lab lab{random.uniform(22, 90), chroma * std::cos(hue), chroma * std::sin(hue)};
        if (const auto r = sim::reflectanceOf(lab, random.next(), 0.15))
            out.push_back({*r, lab});
    }
    return out;
}

enum class Trouble { None, Gradient, HotSpot, Flare, Both, Covered, Glare, HighIso };
constexpr const char *kFaults[] = {"clean", "25 % gradient", "20 % hot spot", "5 % flare", "gradient and flare", "two covered", "three under glare", "ISO 12 800"};

struct Body {
    const sim::Camera &camera;
    const sim::Lamp &lamp;
    Vector3 white; ///< of a perfect diffuser, green 1
};

Vector3 seen(const Body &body, const Spectrum &reflectance)
{
    const auto rgb = sim::response(body.camera, body.camera.lenses[0], body.lamp.spectrum, reflectance);
    const double full = sim::response(body.camera, body.camera.lenses[0], body.lamp.spectrum, spectrumFrom([](double) { return 1.0; }))[1];
    return {0.6 * rgb[0] / full, 0.6 * rgb[1] / full, 0.6 * rgb[2] / full};
}

Reading readingOf(const Body &body, Trouble fault, uint64_t seed)
{
    sim::Random random(seed * 31 + uint64_t(fault));
    const double angle = random.uniform(0, 6.2832), spotX = random.uniform(-0.8, 0.8), spotY = random.uniform(-0.8, 0.8);
    const int covered = random.below(23), shine = random.below(22);
    const auto skin = *sim::reflectanceOf({62, 15, 17}, 97, 0.05);
    const auto white = seen(body, spectrumFrom([](double) { return 1.0; }));
    const double electrons = body.camera.fullWell * 100 / (fault == Trouble::HighIso ? 12800 : 200);
    const auto reflectances = sim::chartReflectances(chart());
    Reading reading;
    reading.found = true;
    reading.chart = chart().id;
    for (int i = 0; i < 24; ++i) {
        const double u = (i % 6) / 2.5 - 1, v = (i / 6) / 1.5 - 1;
        auto rgb = seen(body, reflectances[size_t(i)]);
        if (fault == Trouble::Covered && (i == covered || i == covered + 1))
            rgb = seen(body, skin);
        double gain = 1;
        if (fault == Trouble::Gradient || fault == Trouble::Both)
            gain = 1 + 0.125 * (u * std::cos(angle) + v * std::sin(angle));
        if (fault == Trouble::HotSpot)
            gain = 1 + 0.2 * std::exp(-0.5 * (std::pow(u - spotX, 2) + std::pow(v - spotY, 2)) / 0.36);
        const double veil = fault == Trouble::Flare || fault == Trouble::Both ? 0.05 : fault == Trouble::Glare && i >= shine && i < shine + 3 ? 0.25 : 0.001;
        PatchReading patch;
        patch.id = chart().patches[size_t(i)].id;
        patch.count = 4000;
        double out[3];
        for (size_t c = 0; c < 3; ++c) {
            const double value = gain * rgb[c] + veil * white[c];
            const double sd = std::sqrt(std::max(0.0, value) * electrons + body.camera.readNoise * body.camera.readNoise) / electrons;
            out[c] = value + sd / std::sqrt(1000.0) * random.normal();
        }
        patch.mean = {out[0], out[1], out[2]};
        reading.patches.push_back(patch);
    }
    return reading;
}

/// Mean ΔE2000 over the unseen colours; `gain` as the calibration has it, or the best common one.
double judged(const Body &body, const std::vector<Unseen> &unseen, const std::function<Xyz(const CameraRgb &)> &model, bool freeGain)
{
    std::vector<Xyz> results;
    double ratio = 0;
    for (const auto &one : unseen) {
        const auto rgb = seen(body, one.reflectance);
        results.push_back(model({rgb[0], rgb[1], rgb[2]}));
        ratio += std::log(xyzFromLab(one.lab).y / std::max(1e-6, results.back().y)) / double(unseen.size());
    }
    const double gain = freeGain ? std::exp(ratio) : 1;
    double sum = 0;
    for (size_t i = 0; i < unseen.size(); ++i)
        sum += de2000(labFromXyz({gain * results[i].x, gain * results[i].y, gain * results[i].z}), unseen[i].lab) / double(unseen.size());
    return sum;
}

} // namespace

int main(int argc, char **argv)
{
    const int seeds = argc > 1 ? std::atoi(argv[1]) : 3;
    const auto unseen = unseenColours(320);
    fmt::print("{:20}{:>10}{:>10}{:>12}{:>12}{:>14}\n", "reading", "mean ΔE", "to clean", "at worst", "free gain", "plain squares");
    std::map<std::string, double> clean;
    for (int f = 0; f < 8; ++f) {
        double sum = 0, ratios = 0, worst = 0, freeRatios = 0, plain = 0;
        std::string worstWhere;
        int count = 0;
        for (const auto &camera : sim::cameras())
            for (const auto &lamp : sim::lamps())
                for (int seed = 1; seed <= seeds; ++seed) {
                    const Body body{camera, lamp, {}};
                    const auto reading = readingOf(body, Trouble(f), uint64_t(seed));
                    FitOptions options;
                    options.crossValidate = false;
                    const auto calibration = fitCalibration(reading, chart(), options);
                    if (!calibration)
                        continue;
                    const auto model = [&](const CameraRgb &rgb) { return xyzFromCamera(*calibration, rgb); };
                    const double asIs = judged(body, unseen, model, false), free = judged(body, unseen, model, true);
                    std::vector<FittedPatch> patches;
                    for (size_t i = 0; i < 24; ++i)
                        patches.push_back({reading.patches[i].id, reading.patches[i].mean, chart().patches[i].reference});
                    const auto squares = fitLeastSquares(patches);
                    const auto key = fmt::format("{}/{}/{}", camera.model, lamp.name, seed);
                    if (f == 0) {
                        clean[key] = asIs;
                        clean[key + "/free"] = free;
                    }
                    sum += asIs;
                    ratios += asIs / clean[key];
                    freeRatios += free / clean[key + "/free"];
                    if (free / clean[key + "/free"] > worst) {
                        worst = free / clean[key + "/free"];
                        worstWhere = key;
                    }
                    plain += judged(body, unseen, [&](const CameraRgb &rgb) { return xyzOf(squares->xyzFromCamera * vectorOf(rgb)); }, true) / clean[key + "/free"];
                    ++count;
                }
        fmt::print("{:20}{:10.3f}{:10.3f}{:12.3f}{:12.3f}{:14.3f}   {}\n", kFaults[f], sum / count, ratios / count, worst, freeRatios / count, plain / count, worstWhere);
    }
}
