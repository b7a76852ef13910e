#include "core/capture/capture_checks.h"

#include "core/base/number_text.h"
#include "core/color/lab.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace wavechroma {

Check checkFocus(const CaptureEvidence &evidence, const CaptureLimits &limits)
{
    Check check{"focus", Severity::Ok, 0, limits.blurPixels, "pixels", {}, "Sharp."};
    if (!evidence.edges) {
        check.message = "The chart is too small in the frame to judge the focus.";
        return check;
    }
    const auto [across, along, edges] = *evidence.edges;
    check.value = std::max(across, along);
    if (check.value < limits.blurPixels)
        return check;
    check.severity = Severity::Warn;
    // Defocus is alike both ways; a shake is not.
    const bool moved = check.value > 1.7 * std::min(across, along);
    check.message = moved ? fmt::format("Shaken by {} pixels. Use a firmer stand or a shorter time.", fixedText(check.value, 1))
                          : fmt::format("Out of focus by {} pixels.", fixedText(check.value, 1));
    return check;
}

Check checkNoise(const Reading &reading, const ChartDefinition &chart, const CaptureLimits &limits)
{
    Check check{"noise", Severity::Ok, 0, limits.noise, "relative", {}, "Noise is low."};
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
        check.message = "No middle grey to judge the noise by.";
        return check;
    }
    check.patches = {middle->id};
    check.value = middle->sd.g / middle->mean.g;
    if (check.value > limits.noise) {
        check.severity = Severity::Warn;
        check.message = fmt::format("{} noise in {}. Lower the ISO or open up.", percentText(check.value), middle->id);
    }
    return check;
}

} // namespace wavechroma
