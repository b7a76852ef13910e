#include "core/capture/capture_checks.h"

#include "core/balance/balance.h"
#include "core/measure/find_chart.h"

namespace wavechroma {

CaptureEvidence captureEvidence(const RawFrame &frame, const Reading &reading, const ChartDefinition &chart, bool withEdges)
{
    CaptureEvidence evidence;
    const auto homography = reading.found ? homographyFrom(chart, reading.corners) : std::nullopt;
    if (!homography)
        return evidence;
    evidence.match = placementFit(frame, chart, *homography);
    const auto extent = chartExtent(chart);
    for (size_t i = 0; i < chart.patches.size(); ++i) {
        const auto *patch = reading.patch(chart.patches[i].id);
        if (!patch || !isUsable(*patch))
            continue;
        const auto centre = patchCentre(chart, int(i) / chart.columns, int(i) % chart.columns);
        evidence.patches.push_back({{patch->id, patch->mean, chart.patches[i].reference}, 2 * centre.x / extent.x - 1, 2 * centre.y / extent.y - 1});
    }
    evidence.model = fitCaptureModel(evidence.patches);
    if (withEdges)
        evidence.edges = edgeSpread(frame, chart, *homography);
    return evidence;
}

std::vector<Check> captureChecks(const Reading &reading, const ChartDefinition &chart, const CaptureEvidence &evidence, const CaptureLimits &limits)
{
    if (!reading.found)
        return {checkFound(reading, chart)};
    const auto match = checkMatch(chart, evidence.match, limits);
    auto checks = std::vector<Check>{checkFound(reading, chart), checkClipping(reading, chart, limits), checkExposure(reading, chart, limits),
                                     checkUnderexposure(reading, limits)};
    // Light, glare and fingers can only be told from patches whose colours are known.
    if (match.severity == Severity::Ok) {
        checks.push_back(checkEvenness(reading, chart, evidence, limits));
        checks.push_back(checkGlare(reading, chart, evidence, limits));
    }
    checks.push_back(checkFocus(evidence, limits));
    checks.push_back(checkNoise(reading, chart, limits));
    if (match.severity == Severity::Ok) {
        checks.push_back(checkFlare(chart, evidence, limits));
        checks.push_back(checkObstruction(evidence, limits));
    }
    checks.push_back(match);
    return checks;
}

} // namespace wavechroma
