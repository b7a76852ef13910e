#include "core/fit/two_lights.h"

#include "core/color/temperature.h"

#include <algorithm>
#include <cmath>

namespace wavechroma {

namespace {

constexpr double kLeastApart = 0.05;

double miredOf(const CalibrationLight &light)
{
    return 1e6 / light.cctKelvin;
}

std::vector<double> weightsAt(const Calibration &c, const Chromaticity &xy)
{
    std::vector<double> weights(c.lights.size(), 0);
    if (c.lights.size() == 2) {
        const double from = miredOf(c.lights[0].light), to = miredOf(c.lights[1].light);
        if (std::abs(to - from) < 1e-9)
            return {1, 0};
        weights[1] = std::clamp((1e6 / temperatureOf(xy).cctKelvin - from) / (to - from), 0.0, 1.0);
        weights[0] = 1 - weights[1];
        return weights;
    }
    double sum = 0;
    for (size_t i = 0; i < weights.size(); ++i) {
        const double dx = xy.x - c.lights[i].light.xy.x, dy = xy.y - c.lights[i].light.xy.y;
        sum += weights[i] = 1 / std::max(1e-12, dx * dx + dy * dy);
    }
    for (auto &w : weights)
        w /= sum;
    return weights;
}

} // namespace

Result<Calibration> joinedLights(const std::vector<Calibration> &calibrations,
                                 const std::vector<Vector3> &neutrals)
{
    if (calibrations.size() < 2 || calibrations.size() > 3 || neutrals.size() != calibrations.size())
        return unusable("a calibration joins two or three lights, not {count}",
                        {{"count", double(calibrations.size())}});
    Calibration out = calibrations.front();
    for (size_t i = 0; i < calibrations.size(); ++i) {
        const auto &c = calibrations[i];
        if (!samePair(c.camera, out.camera))
            return unusable("the readings are of different cameras or lenses ({first}, {second}), so they "
                            "cannot make one calibration",
                            {{"first", out.camera.model}, {"second", c.camera.model}});
        if (c.light.name == "unknown")
            return unusable("{calibration}: its light is unknown. Give --light, once for each reading",
                            {{"calibration", c.name}});
        for (size_t j = 0; j < i; ++j)
            if (std::abs(miredOf(c.light) - miredOf(calibrations[j].light)) < kLeastApart * miredOf(c.light))
                return unusable(
                    "the lights {first} and {second} are too close to each other to interpolate between",
                    {{"first", calibrations[j].light.name}, {"second", c.light.name}});
        LightModel light;
        static_cast<ColorModel &>(light) = c;
        light.light = c.light;
        light.colorMatrix = c.colorMatrix;
        light.neutral = {neutrals[i][0] / neutrals[i][1], 1, neutrals[i][2] / neutrals[i][1]};
        light.fit = c.fit;
        light.crossValidated = c.crossValidated;
        out.lights.push_back(light);
        if (i > 0)
            out.madeFrom.insert(out.madeFrom.end(), c.madeFrom.begin(), c.madeFrom.end());
    }
    return out;
}

Xyz xyzFromCamera(const ModelBlend &blend, const CameraRgb &rgb)
{
    Xyz sum;
    for (const auto &[weight, model] : blend.parts) {
        const Xyz one = xyzFromCamera(model, rgb);
        sum = {sum.x + weight * one.x, sum.y + weight * one.y, sum.z + weight * one.z};
    }
    return sum;
}

std::vector<double> lightWeights(const Calibration &c, const Vector3 &neutral)
{
    std::vector<double> weights(c.lights.size(), 1 / double(std::max<size_t>(1, c.lights.size())));
    Chromaticity xy = c.light.xy;
    for (int round = 0; round < 30; ++round) {
        weights = weightsAt(c, xy);
        Matrix3 camera;
        for (size_t k = 0; k < weights.size(); ++k)
            for (int i = 0; i < 9; ++i)
                camera(i / 3, i % 3) += weights[k] * c.lights[k].colorMatrix(i / 3, i % 3);
        const auto back = inverse(camera);
        const Vector3 white = back ? *back * neutral : Vector3{};
        if (!(white[0] > 0 && white[1] > 0 && white[2] > 0))
            break;
        const auto next = chromaticityFromXyz(xyzOf(white));
        const double change = std::abs(next.x - xy.x) + std::abs(next.y - xy.y);
        xy = next;
        if (change < 1e-8)
            break;
    }
    return weights;
}

ModelBlend modelsFor(const Calibration &c, const std::optional<Vector3> &neutral)
{
    if (c.lights.empty() || !neutral)
        return {{{1, c}}};
    // What the fits found their neutrals to be off by: multipliers times neutral would be 1 if they were not.
    const Vector3 n{(*neutral)[0] / (*neutral)[1], 1, (*neutral)[2] / (*neutral)[1]};
    const auto weights = lightWeights(c, [&] {
        Vector3 fitted = n; // the matrices speak of neutrals as the fit sees them
        Vector3 off{};
        for (const auto &light : c.lights)
            for (size_t i = 0; i < 3; ++i)
                off[i] += std::log(light.multipliers[i] * light.neutral[i]) / double(c.lights.size());
        for (size_t i = 0; i < 3; ++i)
            fitted[i] /= std::exp(off[i]);
        return fitted;
    }());
    Vector3 logs{};
    double scale = 0;
    for (size_t k = 0; k < weights.size(); ++k) {
        for (size_t i = 0; i < 3; ++i)
            logs[i] += weights[k] * std::log(c.lights[k].multipliers[i] * c.lights[k].neutral[i]);
        scale += weights[k] * std::log(c.lights[k].exposureScale);
    }
    ModelBlend out;
    for (size_t k = 0; k < weights.size(); ++k) {
        ColorModel model = c.lights[k];
        for (size_t i = 0; i < 3; ++i)
            model.multipliers[i] = std::exp(logs[i]) / n[i];
        model.exposureScale = std::exp(scale);
        if (weights[k] > 0)
            out.parts.emplace_back(weights[k], model);
    }
    return out;
}

} // namespace wavechroma
