#pragma once
#include "core/chart/chart_definition.h"
#include "core/fit/shadow_edge.h"
#include "core/measure/edge_spread.h"
#include "core/values/capture_limits.h"
#include "core/values/reading.h"

#include <map>
#include <optional>

namespace wavechroma {

/// What the checks look at besides the reading itself.
struct CaptureEvidence
{
    double match = 0;                  ///< colour fit of the placement, 0…1, see measure/identify.h
    std::optional<CaptureModel> model; ///< light, flare and misfits; absent with too few patches
    std::optional<ShadowEdge> shadow;  ///< that lies across the chart
    std::vector<std::string> shaded;   ///< patches in it, and those that its edge lies on
    std::vector<PlacedPatch> patches;  ///< that the model was fitted to: as they would be without the shadow
    std::map<std::string, double>
        signs;                       ///< by patch: what the picture shows of things on it, see patch_signs.h
    std::optional<double> falloff;   ///< of an even field, 0…1; absent for charts
    std::optional<EdgeSpread> edges; ///< absent when the chart is too small to judge
};
/// `withEdges` false leaves the edges out, which take longest and do not change while a hand moves the chart.
[[nodiscard]] CaptureEvidence captureEvidence(const RawFrame &frame, const Reading &reading,
                                              const ChartDefinition &chart, bool withEdges = true);

/// All checks of the contract, in its order, each listed whatever it found. When the chart was not found only
/// `found` runs.
[[nodiscard]] std::vector<Check> captureChecks(const Reading &reading, const ChartDefinition &chart,
                                               const CaptureEvidence &evidence,
                                               const CaptureLimits &limits = {});

// levels_checks.cpp
[[nodiscard]] Check checkFound(const Reading &reading, const ChartDefinition &chart);
[[nodiscard]] Check checkClipping(const Reading &reading, const ChartDefinition &chart,
                                  const CaptureLimits &limits);
/// value: stops the lightest neutral is from its aim, negative when under. A clipped neutral is judged by the
/// lightest one that is not, scaled by their references; one that disagrees with most of the others, as under
/// a finger, by those.
[[nodiscard]] Check checkExposure(const Reading &reading, const ChartDefinition &chart,
                                  const CaptureLimits &limits);
[[nodiscard]] Check checkUnderexposure(const Reading &reading, const CaptureLimits &limits);
[[nodiscard]] Check checkMatch(const ChartDefinition &chart, double match, const CaptureLimits &limits);

// light_checks.cpp
/// value: how much darker the darkest corner of the chart is than its lightest, 0…1, by the plane fitted
/// through all patches; the message names the side of the upright picture.
[[nodiscard]] Check checkEvenness(const Reading &reading, const ChartDefinition &chart,
                                  const CaptureEvidence &evidence, const CaptureLimits &limits);
/// value: how many stops darker the patches on one side of a straight edge are, 0 where there is none.
[[nodiscard]] Check checkShadow(const Reading &reading, const ChartDefinition &chart,
                                const CaptureEvidence &evidence, const CaptureLimits &limits);
/// value: the strongest neutral brightening of one patch that also shows in the picture (patch_signs.h), as a
/// share of a perfect diffuser.
[[nodiscard]] Check checkGlare(const Reading &reading, const ChartDefinition &chart,
                               const CaptureEvidence &evidence, const CaptureLimits &limits);
/// value: the veil over the whole chart, as a share of a perfect diffuser.
[[nodiscard]] Check checkFlare(const ChartDefinition &chart, const CaptureEvidence &evidence,
                               const CaptureLimits &limits);
/// value: the largest relative misfit of a patch that is not glare, over its limit. A patch where the picture
/// shows no sign of a thing on it has 2.5 times the limit, and is warned of, not stopped for: no 3×3 explains
/// what a poor sensor sees under a lamp of few lines, or one that sees infrared under glowing wire.
[[nodiscard]] Check checkObstruction(const CaptureEvidence &evidence, const CaptureLimits &limits);

// detail_checks.cpp
/// value: standard deviation of the blur in pixels, the larger of both directions.
[[nodiscard]] Check checkFocus(const CaptureEvidence &evidence, const CaptureLimits &limits);
/// value: relative noise of a pixel in the middle grey.
[[nodiscard]] Check checkNoise(const Reading &reading, const ChartDefinition &chart,
                               const CaptureLimits &limits);

} // namespace wavechroma
