#include "core/capture/capture_checks.h"

#include "core/base/statistics.h"
#include "core/color/lab.h"

#include <algorithm>
#include <cmath>

namespace wavechroma {

Check checkFocus(const CaptureEvidence &evidence, const CaptureLimits &limits)
{
    Check check{CheckId::Focus, Severity::Ok, 0, limits.blurPixels, "pixels", {}, "sharp"};
    if (!evidence.edges) {
        check.finding = "too-small";
        return check;
    }
    const auto [across, along, edges] = *evidence.edges;
    check.value = std::max(across, along);
    if (check.value < limits.blurPixels)
        return check;
    check.severity = Severity::Warn;
    // Defocus is alike both ways; a shake is not.
    const bool moved = check.value > 1.7 * std::min(across, along);
    check.finding = moved ? "shaken" : "soft";
    return check;
}

/// Noise of a pixel of one grey, told by all patches, for the grey itself may be covered or glossy: shot
/// noise grows with the root of the level, and the level follows the references.
static std::optional<double> greyNoise(const Reading &reading, const ChartDefinition &chart,
                                       const ChartPatch &grey)
{
    std::vector<double> level, noise;
    for (const auto &patch : reading.patches) {
        const auto *reference = chart.patch(patch.id);
        if (!reference || patch.count == 0 || patch.clipped > 0 || !(patch.mean.g > 0) ||
            !(reference->reference.y > 0) || reading.isLeftOut(patch.id))
            continue;
        level.push_back(patch.mean.g / reference->reference.y);
        noise.push_back(patch.sd.g / std::sqrt(patch.mean.g));
    }
    if (level.size() < 8 || !chart.colorsKnown)
        return std::nullopt;
    return medianOf(noise) / std::sqrt(medianOf(level) * grey.reference.y);
}

Check checkNoise(const Reading &reading, const ChartDefinition &chart, const CaptureLimits &limits)
{
    Check check{CheckId::Noise, Severity::Ok, 0, limits.noise, "relative", {}, "low"};
    const PatchReading *middle = nullptr;
    double nearest = 1e9;
    for (const auto &id : chart.neutral) {
        const auto *patch = reading.patch(id);
        const double off = std::abs(labFromXyz(chart.patch(id)->reference).l - 50);
        if (patch && patch->count > 0 && patch->mean.g > 0 && off < nearest) {
            nearest = off;
            middle = patch;
        }
    }
    if (!middle) {
        check.finding = "no-grey";
        return check;
    }
    check.patches = {middle->id};
    check.value = greyNoise(reading, chart, *chart.patch(middle->id)).value_or(middle->sd.g / middle->mean.g);
    if (check.value > limits.noise) {
        check.severity = Severity::Warn;
        check.finding = "noisy";
    }
    return check;
}

} // namespace wavechroma
