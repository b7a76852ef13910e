#include "core/capture/capture_checks.h"

#include "core/base/statistics.h"

#include <algorithm>
#include <cmath>

namespace wavechroma {

namespace {

double strongest(const CameraRgb &c)
{
    return std::max({c.r, c.g, c.b});
}

/// Level the lightest neutral would have without clipping, from the lightest neutral that is not clipped. One
/// that is half a stop off what most neutrals say is covered or in glare: then most are believed.
std::optional<double> neutralLevel(const Reading &reading, const ChartDefinition &chart,
                                   const CaptureLimits &limits)
{
    if (chart.neutral.empty())
        return std::nullopt;
    const auto *lightest = chart.patch(chart.neutral.front());
    std::vector<double> levels;
    for (const auto &id : chart.neutral) {
        const auto *patch = reading.patch(id);
        const auto *reference = chart.patch(id);
        if (patch && patch->count > 0 && patch->clipped < limits.clippedShare && reference->reference.y > 0)
            levels.push_back(strongest(patch->mean) * lightest->reference.y / reference->reference.y);
    }
    if (levels.empty())
        return std::nullopt;
    const double first = levels.front();
    if (levels.size() < 4)
        return first;
    const double most = medianOf(levels);
    return first > 0 && most > 0 && std::abs(std::log2(first / most)) > 0.5 ? most : first;
}

/// Level that the lightest neutral is to have: a white's aim, and a darker grey's as much below it as it
/// reflects less.
double aimOf(const ChartDefinition &chart, const CaptureLimits &limits)
{
    constexpr double kWhite = 0.85; // Y from which a neutral counts as the white that the aim is given for
    return limits.exposureAim * std::min(1.0, chart.patch(chart.neutral.front())->reference.y / kWhite);
}

double relativeError(const PatchReading &patch)
{
    // about a quarter of a mosaic's pixels are red, a quarter blue
    const double root = std::sqrt(std::max(1.0, patch.count / 4.0));
    double worst = 0;
    for (const auto &[mean, sd] :
         {std::pair{patch.mean.r, patch.sd.r}, {patch.mean.g, patch.sd.g}, {patch.mean.b, patch.sd.b}})
        worst = std::max(worst, mean > 0 ? sd / root / mean : 1.0);
    return worst;
}

} // namespace

Check checkFound(const Reading &reading, const ChartDefinition &chart)
{
    Check check{CheckId::Found, Severity::Ok, reading.confidence, 0, "confidence", {}, "found"};
    check.count = int(reading.patches.size());
    if (!reading.found) {
        check.severity = Severity::Stop;
        check.finding = "not-found";
        check.chart = chart.name;
    }
    return check;
}

Check checkClipping(const Reading &reading, const ChartDefinition &chart, const CaptureLimits &limits)
{
    Check check{CheckId::Clipping, Severity::Ok, 0, limits.clippedShare, "share", {}, "none"};
    for (const auto &patch : reading.patches) {
        check.value = std::max(check.value, patch.clipped);
        if (patch.clipped >= limits.clippedShare)
            check.patches.push_back(patch.id);
    }
    if (check.patches.empty())
        return check;
    check.severity = Severity::Stop;
    check.finding = "clipped";
    if (const auto level = neutralLevel(reading, chart, limits); level && *level > aimOf(chart, limits))
        check.stops = std::max(1 / 3.0, std::log2(*level / aimOf(chart, limits)));
    return check;
}

Check checkExposure(const Reading &reading, const ChartDefinition &chart, const CaptureLimits &limits)
{
    Check check{CheckId::Exposure, Severity::Ok, 0, limits.exposureStops, "stops", {}, "no-neutral"};
    if (chart.neutral.empty())
        return check;
    const auto level = neutralLevel(reading, chart, limits);
    if (!level || !(*level > 0)) {
        check.severity = Severity::Warn;
        check.finding = "cannot-tell";
        return check;
    }
    check.patches = {chart.neutral.front()};
    check.value = std::log2(*level / aimOf(chart, limits));
    check.finding = std::abs(check.value) < 1 / 6.0 ? "at-aim" : check.value > 0 ? "over" : "under";
    if (std::abs(check.value) > limits.exposureStops) {
        check.severity = -check.value > limits.mostUnderStops ? Severity::Stop : Severity::Warn;
        check.stops = std::abs(check.value);
    }
    return check;
}

/// A colour that the picture's space does not hold has a channel at its end, however well it was exposed.
static bool isOutOfSpace(const Reading &reading, const PatchReading &patch)
{
    constexpr double kWellAbove = 0.05;
    return reading.fileColor.xyzD50FromRendered && patch.low > 0 &&
           std::max({patch.mean.r, patch.mean.g, patch.mean.b}) > kWellAbove;
}

Check checkUnderexposure(const Reading &reading, const CaptureLimits &limits)
{
    Check check{CheckId::Underexposure, Severity::Ok, 0, limits.meanError, "relative", {}, "none"};
    std::vector<std::string> outside;
    for (const auto &patch : reading.patches) {
        if (isOutOfSpace(reading, patch)) {
            outside.push_back(patch.id);
            continue;
        }
        const double error = relativeError(patch);
        check.value = std::max(check.value, error);
        if (error > limits.meanError || patch.low >= 0.1)
            check.patches.push_back(patch.id);
    }
    if (check.patches.empty()) {
        check.patches = outside;
        check.finding = outside.empty() ? "none" : "gamut";
        return check;
    }
    check.severity = check.patches.size() * 4 > reading.patches.size() ? Severity::Stop : Severity::Warn;
    check.finding = "noisy";
    return check;
}

Check checkMatch(const ChartDefinition &chart, double match, const CaptureLimits &limits)
{
    Check check{CheckId::Match, Severity::Ok, match, limits.leastMatch, "fit", {}, "fits"};
    if (!chart.colorsKnown) {
        check.severity = Severity::Warn;
        check.value = 0;
        check.finding = "values-unknown";
        check.chart = chart.name;
    } else if (match < limits.leastMatch) {
        check.severity = Severity::Stop;
        check.finding = "other";
        check.chart = chart.name;
    }
    return check;
}

} // namespace wavechroma
