#pragma once
#include "core/chart/chart_definition.h"
#include "core/chart/reading.h"

namespace wavechroma {

/// The limits that the capture checks hold a frame to.
struct CaptureLimits {
    double leastMatch = 0.90;     ///< colour fit 0…1, see measure/identify.h
    double clippedShare = 0.01;   ///< of a patch's pixels
    double exposureStops = 1.0;   ///< either side of the aim
    double mostUnderStops = 3.0;  ///< further under than this, the frame is not to be used
    double meanError = 0.01;      ///< relative standard error of a patch's weakest channel
    double exposureAim = 0.70;    ///< the lightest neutral's strongest channel, of saturation: half a stop below it
};

/// All checks that this version knows, in the contract's order, each listed whatever it found: `found`, `clipping`,
/// `exposure`, `underexposure`, `match`. When the chart was not found only `found` runs. `match` is the colour fit of
/// the reading's patches, 0…1.
[[nodiscard]] std::vector<Check> captureChecks(const Reading &reading, const ChartDefinition &chart, double match,
                                               const CaptureLimits &limits = {});

[[nodiscard]] Check checkFound(const Reading &reading, const ChartDefinition &chart);
[[nodiscard]] Check checkClipping(const Reading &reading, const ChartDefinition &chart, const CaptureLimits &limits);
/// value: stops the lightest neutral is from its aim, negative when under. A burnt neutral is judged by the lightest one
/// that is not, scaled by their references.
[[nodiscard]] Check checkExposure(const Reading &reading, const ChartDefinition &chart, const CaptureLimits &limits);
[[nodiscard]] Check checkUnderexposure(const Reading &reading, const CaptureLimits &limits);
[[nodiscard]] Check checkMatch(const ChartDefinition &chart, double match, const CaptureLimits &limits);

} // namespace wavechroma
