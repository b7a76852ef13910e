#include "core/fit/fit.h"

#include "core/base/number_text.h"
#include "core/color/adaptation.h"
#include "core/chart/chart_geometry.h"
#include "core/fit/fit_balance.h"
#include "core/fit/settle.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <functional>
#include <tbb/parallel_for.h>

namespace wavechroma {

namespace {

std::vector<FittedPatch> usablePatches(const Reading &reading, const ChartDefinition &chart, const FitOptions &options)
{
    std::vector<FittedPatch> patches;
    for (const auto &patch : reading.patches) {
        const auto *reference = chart.patch(patch.id);
        const bool leftOut = std::count(options.without.begin(), options.without.end(), patch.id) > 0;
        if (reference && isUsable(patch) && !leftOut && !reading.isLeftOut(patch.id))
            patches.push_back({patch.id, patch.mean, reference->reference});
    }
    return patches;
}

std::vector<FittedPatch> neutralsOf(const std::vector<FittedPatch> &patches, const ChartDefinition &chart)
{
    std::vector<FittedPatch> neutrals;
    for (const auto &patch : patches)
        if (std::count(chart.neutral.begin(), chart.neutral.end(), patch.id))
            neutrals.push_back(patch);
    return neutrals;
}

/// The reading as an even light without flare would have shown it, the spoilt patches left out; says what was taken out.
std::vector<FittedPatch> settledPatches(std::vector<FittedPatch> &patches, const ChartDefinition &chart, const Reading &reading, TakenOut &takenOut)
{
    const auto extent = chartExtent(chart);
    std::vector<PlacedPatch> placed;
    for (const auto &patch : patches) {
        const auto index = int(chart.patch(patch.id) - chart.patches.data());
        const auto centre = patchCentre(chart, index / chart.columns, index % chart.columns);
        placed.push_back({patch, 2 * centre.x / extent.x - 1, 2 * centre.y / extent.y - 1});
    }
    const auto settled = settle(placed, {reading.flats.empty(), true, true});
    takenOut = {settled.flare, settled.gain, settled.spoilt};
    const auto isSpoilt = [&](const FittedPatch &p) { return std::count(settled.spoilt.begin(), settled.spoilt.end(), p.id) > 0; };
    auto out = settled.patches;
    std::erase_if(out, isSpoilt);
    std::erase_if(patches, isSpoilt);
    return out;
}

using Fit = std::function<std::optional<SplitModel>(const std::vector<FittedPatch> &)>;

LinearModel joined(const SplitModel &m)
{
    return wavechroma::joined(m.multipliers, m.exposureScale, m.matrix);
}

ErrorSummary errorsOf(const std::vector<FittedPatch> &patches, const SplitModel &model)
{
    std::vector<double> errors;
    const auto linear = joined(model);
    for (const auto &patch : patches)
        errors.push_back(de2000Of(patch, linear));
    return summaryOf(errors);
}

/// Each patch judged by the model made from all the others.
ErrorSummary leaveOneOut(const std::vector<FittedPatch> &patches, const Fit &fit)
{
    std::vector<double> errors(patches.size(), std::nan(""));
    tbb::parallel_for(size_t(0), patches.size(), [&](size_t i) {
        auto others = patches;
        others.erase(others.begin() + ptrdiff_t(i));
        if (const auto model = fit(others))
            errors[i] = de2000Of(patches[i], joined(*model));
    });
    std::erase_if(errors, [](double e) { return std::isnan(e); });
    return summaryOf(errors);
}

CalibrationLight lightOf(const FitOptions &options, const FileColor &color, const Vector3 &multipliers)
{
    CalibrationLight light;
    const auto describe = [&](const Chromaticity &xy) {
        light.xy = xy;
        const auto temperature = temperatureOf(xy);
        light.cctKelvin = temperature.cctKelvin;
        light.duv = temperature.duv;
    };
    if (options.light) {
        describe(options.light->xy);
        light.name = options.light->name;
        light.exifCode = options.light->exifCode;
    } else if (const auto xy = lightFromNeutral(color, {1 / multipliers[0], 1, 1 / multipliers[2]})) {
        describe(*xy);
        light.name = kelvinText(light.cctKelvin);
        light.exifCode = exifCodeNear(*xy);
        light.estimated = true;
    } else {
        describe(chromaticityFromXyz(kD50White));
        light.name = "unknown";
    }
    return light;
}

/// Camera RGB of a colour that has this XYZ under the light: back through the matrix and the white balance, after
/// adapting the light's white to D50. Scaled as the DNG specification asks, so that the D50 white just reaches 1.
std::optional<Matrix3> colorMatrixOf(const SplitModel &model, const Chromaticity &light)
{
    const auto back = inverse(model.matrix);
    if (!back)
        return std::nullopt;
    const auto &m = model.multipliers;
    const Matrix3 camera = diagonal({1 / m[0], 1, 1 / m[2]}) * *back * adaptation(xyzFromChromaticity(light), kD50White);
    const Vector3 white = camera * vectorOf(kD50White);
    return (1 / *std::max_element(white.begin(), white.end())) * camera;
}

} // namespace

const std::vector<std::string> &knownModels()
{
    static const std::vector<std::string> models{"balance", "matrix"};
    return models;
}

Result<Done> checkModel(const std::string &model)
{
    if (std::count(knownModels().begin(), knownModels().end(), model))
        return Done{};
    return unusable(fmt::format("unknown model \"{}\"; known: {}", model, fmt::join(knownModels(), ", ")));
}

Result<Calibration> fitCalibration(const Reading &reading, const ChartDefinition &chart, const FitOptions &options)
{
    if (const auto known = checkModel(options.model); !known)
        return known.error();
    if (!reading.found)
        return unusable(reading.image + ": no chart was found in it, so there is nothing to fit");
    if (!chart.colorsKnown)
        return unusable(reading.image + ": the colours of the " + chart.name + " are not known; give them with --reference");
    Calibration out;
    out.model = options.model;
    out.camera = reading.camera;
    out.fileColor = reading.fileColor;
    out.chart = chart.id;
    out.patches = usablePatches(reading, chart, options);
    if (int(out.patches.size()) < kFewestPatches)
        return unusable(fmt::format("{}: only {} of {} patches can be used (the others are burnt out, too dark or left out); "
                                    "a fit needs {}",
                                    reading.image, out.patches.size(), chart.patches.size(), kFewestPatches));
    const auto settled = settledPatches(out.patches, chart, reading, out.takenOut);
    std::optional<LinearModel> whole;
    const Fit fit = [&](const std::vector<FittedPatch> &patches) -> std::optional<SplitModel> {
        if (options.model == "balance")
            return fitBalance(neutralsOf(patches, chart), reading.fileColor);
        const auto model = fitLinear(patches, whole ? &*whole : nullptr);
        return model ? splitAtWhite(*model) : std::nullopt;
    };
    const auto model = fit(settled);
    if (!model)
        return unusable(reading.image + ": the patches do not fix a calibration (no usable neutral, or colours too alike)");
    out.multipliers = model->multipliers;
    out.exposureScale = model->exposureScale;
    out.matrix = model->matrix;
    out.light = lightOf(options, reading.fileColor, model->multipliers);
    const auto colorMatrix = colorMatrixOf(*model, out.light.xy);
    if (!colorMatrix)
        return unusable(reading.image + ": the fitted matrix cannot be inverted");
    out.colorMatrix = *colorMatrix;
    out.fit = errorsOf(out.patches, *model);
    whole = joined(*model);
    if (options.crossValidate)
        out.crossValidated = leaveOneOut(settled, fit);
    return out;
}

} // namespace wavechroma
