#include "core/fit/fit.h"

#include "core/base/number_text.h"
#include "core/chart/chart_geometry.h"
#include "core/color/adaptation.h"
#include "core/fit/cross_validate.h"
#include "core/fit/part_balance.h"
#include "core/fit/settle.h"

#include <algorithm>
#include <cmath>

namespace wavechroma {

namespace {

std::vector<FittedPatch> usablePatches(const Reading &reading, const ChartDefinition &chart,
                                       const FitOptions &options)
{
    std::vector<FittedPatch> patches;
    for (const auto &patch : reading.patches) {
        const auto *reference = chart.patch(patch.id);
        const bool leftOut = std::count(options.without.begin(), options.without.end(), patch.id) > 0;
        if (!reference || !reference->isKnown || !isUsable(patch) || leftOut || reading.isLeftOut(patch.id))
            continue;
        const auto weight = options.weights.find(patch.id);
        patches.push_back({patch.id, patch.mean, reference->reference,
                           weight == options.weights.end() ? 1 : weight->second, doubtOfMean(patch)});
    }
    return patches;
}

SetPlace placeOf(const std::string &patch, const ChartDefinition &chart, const FitOptions &options)
{
    if (const auto known = options.places.find(patch); known != options.places.end())
        return known->second;
    const auto extent = chartExtent(chart);
    const auto index = int(chart.patch(patch) - chart.patches.data());
    const auto centre = patchCentre(chart, index / chart.columns, index % chart.columns);
    return {2 * centre.x / extent.x - 1, 2 * centre.y / extent.y - 1};
}

/// The reading as an even light without flare would have shown it, the spoilt patches left out; says what was
/// taken out.
std::vector<FittedPatch> settledPatches(std::vector<FittedPatch> &patches, const ChartDefinition &chart,
                                        const Reading &reading, const FitOptions &options, TakenOut &takenOut)
{
    std::vector<PlacedPatch> placed;
    for (const auto &patch : patches) {
        const auto at = placeOf(patch.id, chart, options);
        placed.push_back({patch, at.u, at.v});
    }
    const auto settled = settle(placed, {reading.flats.empty(), options.flare, true});
    takenOut = {settled.flare, settled.gain, settled.spoilt};
    const auto isSpoilt = [&](const FittedPatch &p) {
        return std::count(settled.spoilt.begin(), settled.spoilt.end(), p.id) > 0;
    };
    auto out = settled.patches;
    std::erase_if(out, isSpoilt);
    std::erase_if(patches, isSpoilt);
    return out;
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
        light.spectrum = options.light->spectrum;
    } else if (const auto xy = lightFromNeutral(
                   color, options.neutral.value_or(Vector3{1 / multipliers[0], 1, 1 / multipliers[2]}))) {
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

/// Camera RGB of a colour that has this XYZ under the light: back through the matrix and the white balance,
/// after adapting the light's white to D50. Scaled as the DNG specification asks, so that the D50 white just
/// reaches 1.
std::optional<Matrix3> colorMatrixOf(const ColorModel &model, const Chromaticity &light)
{
    const auto back = inverse(model.matrix);
    if (!back)
        return std::nullopt;
    const auto &m = model.multipliers;
    const Matrix3 camera =
        diagonal({1 / m[0], 1, 1 / m[2]}) * *back * adaptation(xyzFromChromaticity(light), kD50White);
    const Vector3 white = camera * vectorOf(kD50White);
    return (1 / *std::max_element(white.begin(), white.end())) * camera;
}

/// All that a fit starts from.
struct Start
{
    ChartDefinition chart;
    Appearance appearance = Appearance::UnderD50;
    std::vector<FittedPatch> patches, settled;
    TakenOut takenOut;
    FitContext context;
};

/// The chart's neutrals. Of equal ones, as on the faces of a cube, the one in the stronger light speaks: it
/// is the key's, and a mean of two lights is none of them.
std::vector<std::string> neutralsInOneLight(const Reading &reading, const ChartDefinition &chart)
{
    constexpr double kEqual = 1e-6;
    const auto isInShade = [&](const std::string &id) {
        const auto *own = reading.patch(id);
        return own && std::any_of(chart.neutral.begin(), chart.neutral.end(), [&](const std::string &other) {
                   const auto *patch = reading.patch(other);
                   return patch && patch->mean.g > own->mean.g && isUsable(*patch) &&
                          !reading.isLeftOut(other) &&
                          std::abs(chart.patch(other)->reference.y - chart.patch(id)->reference.y) < kEqual;
               });
    };
    auto out = chart.neutral;
    if (saysWhiteAlone(chart))
        std::erase_if(out, isInShade);
    return out;
}

/// `isWhiteAlone`: nothing but a balance is asked of what says white, which one patch is enough for.
Result<Start> startOf(const Reading &reading, const ChartDefinition &chart, const FitOptions &options,
                      bool isWhiteAlone)
{
    if (!reading.found)
        return unusable("{file}: no chart was found, so there is nothing to fit", {{"file", reading.image}});
    for (const auto &[id, weight] : options.weights)
        if (!(weight > 0) || !std::isfinite(weight))
            return unusable("the weight of patch {patch} must be above 0; leave the patch out instead",
                            {{"patch", id}});
    Start start;
    start.chart = chart;
    const bool hasSpectra = std::any_of(chart.patches.begin(), chart.patches.end(),
                                        [](const auto &p) { return p.reflectance.has_value(); });
    if (options.appearance == Appearance::UnderLight && !(hasSpectra && options.light))
        return unusable("{file}: --appearance light needs a chart with spectra and a named or measured light",
                        {{"file", reading.image}});
    if (hasSpectra && options.light &&
        options.appearance.value_or(Appearance::UnderLight) == Appearance::UnderLight) {
        start.chart = chartUnderLight(chart, options.light->spectrum);
        start.appearance = Appearance::UnderLight;
    }
    if (!start.chart.colorsKnown)
        return unusable("{file}: the colours of the {chart} are not known; give them with --reference",
                        {{"file", reading.image}, {"chart", chart.name}});
    start.patches = usablePatches(reading, start.chart, options);
    if (int(start.patches.size()) < (isWhiteAlone ? 1 : kFewestPatches))
        return unusable("{file}: only {used} of {all} patches can be used (the others are clipped, too dark "
                        "or left out). A fit needs {needed}",
                        {{"file", reading.image},
                         {"used", double(start.patches.size())},
                         {"all", double(chart.patches.size())},
                         {"needed", double(kFewestPatches)}});
    start.settled = options.settle && !isWhiteAlone
                        ? settledPatches(start.patches, start.chart, reading, options, start.takenOut)
                        : start.patches;
    start.context = {neutralsInOneLight(reading, chart), reading.fileColor, options.eachChannel};
    return start;
}

Result<Calibration> calibrationOf(const Parts &parts, const ColorModel &model, const Reading &reading,
                                  const Start &start, const FitOptions &options)
{
    Calibration out;
    static_cast<ColorModel &>(out) = model;
    out.lean = options.lean;
    out.parts = parts;
    out.camera = reading.camera;
    out.fileColor = reading.fileColor;
    out.chart = start.chart.id;
    out.patches = start.patches;
    out.takenOut = start.takenOut;
    out.appearance = start.appearance;
    out.light = lightOf(options, reading.fileColor, model.multipliers);
    const auto colorMatrix = colorMatrixOf(model, out.light.xy);
    if (!colorMatrix)
        return unusable("{file}: the fitted matrix cannot be inverted", {{"file", reading.image}});
    out.colorMatrix = *colorMatrix;
    std::vector<double> errors;
    for (const auto &patch : out.patches)
        errors.push_back(de2000Of(patch, out));
    out.fit = summaryOf(errors);
    return out;
}

/// The crossings with those that they stand on: a fit without one patch starts near the whole fit of each, so
/// that a crossing by itself is judged as in the plane.
std::vector<Parts> withBases(std::vector<Parts> wanted)
{
    for (size_t i = 0; i < wanted.size(); ++i) {
        const auto parts = wanted[i]; // the vector grows
        const auto *colour = colourPart(parts.colour);
        const auto *tone = tonePart(parts.tone);
        std::vector<Parts> bases;
        if (colour && colour->standsOn)
            bases.push_back({colour->standsOn, parts.tone});
        if (tone && tone->fit)
            bases.push_back({parts.colour, toneParts().front().name});
        for (const auto &base : bases)
            if (std::find(wanted.begin(), wanted.end(), base) == wanted.end())
                wanted.push_back(base);
    }
    return wanted;
}

/// Crossings with their figures.
Result<std::vector<Calibration>> fitCrossings(const std::vector<Parts> &wanted, const Reading &reading,
                                              const ChartDefinition &chart, const FitOptions &options,
                                              const Progress &progress)
{
    const bool isWhiteAlone = saysWhiteAlone(chart) && wanted == std::vector{balanceAlone()};
    const auto start = startOf(reading, chart, options, isWhiteAlone);
    if (!start)
        return start.error();
    if (const auto known = check(options.lean); !known)
        return known.error();
    progress.at(0, "fitting");
    Strengths strengths;
    const auto models = fitModels(isWhiteAlone ? wanted : withBases(wanted), start->settled, start->context,
                                  strengths, nullptr, progress);
    std::map<Parts, Honesty> honesty;
    if (options.crossValidate && !isWhiteAlone)
        honesty = crossValidate(models, start->settled, start->context, strengths, options.lean, progress);
    if (progress.stopped())
        return std::vector<Calibration>();
    const auto linear = isWhiteAlone ? std::nullopt : fitLinear(start->settled);
    const auto plain = linear ? splitAtWhite(*linear) : std::nullopt;
    std::vector<Calibration> out;
    for (const auto &parts : wanted) {
        const auto model = models.find(parts);
        if (model == models.end())
            continue;
        auto calibration = calibrationOf(parts, model->second, reading, *start, options);
        if (!calibration)
            continue;
        if (const auto judged = honesty.find(parts); judged != honesty.end()) {
            calibration->crossValidated = judged->second.crossValidated;
            for (auto &patch : calibration->patches)
                if (const auto at = judged->second.unseen.find(patch.id); at != judged->second.unseen.end())
                    patch.unseen = at->second;
            calibration->figures = figuresOf(*calibration, plain ? *plain : *calibration, start->chart,
                                             judged->second.sensitivity);
        }
        out.push_back(*calibration);
    }
    return out;
}

} // namespace

Result<Calibration> calibrationOfNeutral(const CameraFacts &camera, const FileColor &color,
                                         const Vector3 &neutral)
{
    if (color.matrices.empty() && !color.xyzD50FromRendered)
        return unusable(
            "the file has no colour matrix, so that a white balance alone makes no colours of it");
    Calibration out;
    out.multipliers = {neutral[1] / neutral[0], 1, neutral[1] / neutral[2]};
    out.matrix = fileMatrix(color, neutral);
    out.parts = out.asked.parts = balanceAlone();
    out.camera = camera;
    out.fileColor = color;
    out.light = lightOf({}, color, out.multipliers);
    const auto colorMatrix = colorMatrixOf(out, out.light.xy);
    if (!colorMatrix)
        return unusable("the file's own colour matrix cannot be inverted");
    out.colorMatrix = *colorMatrix;
    out.madeWith = "Wavechroma " WAVECHROMA_VERSION;
    return out;
}

bool saysWhiteAlone(const ChartDefinition &chart)
{
    return chart.colorsKnown && !chart.neutral.empty() &&
           (isGreyScale(chart) || chart.patches.size() == chart.neutral.size());
}

ChartDefinition chartUnderLight(const ChartDefinition &chart, const Spectrum &light)
{
    ChartDefinition out = chart;
    const Matrix3 toD50 = adaptation(xyzFromLight(light), kD50White);
    for (auto &patch : out.patches)
        if (patch.reflectance)
            patch.reference = xyzOf(toD50 * vectorOf(xyzFromReflectance(*patch.reflectance, light)));
    return out;
}

ChartDefinition chartAsMeant(const Calibration &calibration, const ChartDefinition &chart)
{
    const auto &light = calibration.light.spectrum;
    return calibration.appearance == Appearance::UnderLight && light ? chartUnderLight(chart, *light) : chart;
}

Result<Calibration> fitCalibration(const Reading &reading, const ChartDefinition &chart,
                                   const FitOptions &options, const Progress &progress)
{
    if (const auto known = check(options.parts); !known)
        return known.error();
    const auto fitted = fitCrossings({options.parts}, reading, chart, options, progress);
    if (!fitted)
        return fitted.error();
    if (progress.stopped())
        return unusable("{file}: stopped", {{"file", reading.image}});
    if (fitted->empty())
        return unusable("{file}: these patches do not determine a calibration (no usable neutral, or colours "
                        "too similar)",
                        {{"file", reading.image}});
    return fitted->front();
}

Result<std::vector<Calibration>> fitPlane(const Reading &reading, const ChartDefinition &chart,
                                          const FitOptions &options, const Progress &progress)
{
    const auto wanted = saysWhiteAlone(chart) ? std::vector{balanceAlone()} : crossings(options.eachChannel);
    return fitCrossings(wanted, reading, chart, options, progress);
}

} // namespace wavechroma
