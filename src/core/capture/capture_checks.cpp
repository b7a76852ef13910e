#include "core/capture/capture_checks.h"

#include "core/balance/balance.h"
#include "core/fit/straight_tone.h"
#include "core/measure/find_chart.h"
#include "core/measure/flat_field.h"
#include "core/measure/patch_signs.h"

namespace wavechroma {

CaptureEvidence captureEvidence(const RawFrame &frame, const Reading &reading, const ChartDefinition &chart,
                                bool withEdges)
{
    CaptureEvidence evidence;
    const auto homography =
        reading.found ? homographyFrom(chart, reading.corners, reading.lens()) : std::nullopt;
    if (!homography)
        return evidence;
    evidence.match = placementFit(frame, chart, *homography);
    const auto extent = chartExtent(chart);
    for (size_t i = 0; i < chart.patches.size(); ++i) {
        const auto *patch = reading.patch(chart.patches[i].id);
        if (!patch || !isUsable(*patch) || reading.isLeftOut(patch->id) || !chart.colorsKnown)
            continue;
        const auto centre = patchCentre(chart, int(i) / chart.columns, int(i) % chart.columns);
        evidence.patches.push_back({{patch->id, patch->mean, chart.patches[i].reference},
                                    2 * centre.x / extent.x - 1,
                                    2 * centre.y / extent.y - 1});
    }
    if (reading.fileColor.xyzD50FromRendered)
        evidence.patches = withStraightTone(evidence.patches, chart.neutral);
    if ((evidence.shadow = shadowOver(evidence.patches))) {
        for (size_t i = 0; i < evidence.patches.size(); ++i)
            if (evidence.shadow->inside[i] || evidence.shadow->crossed[i])
                evidence.shaded.push_back(evidence.patches[i].patch.id);
        evidence.patches = withoutShadow(evidence.patches, *evidence.shadow);
    }
    evidence.model = fitCaptureModel(evidence.patches);
    if (evidence.model && reading.patches.size() == chart.patches.size()) {
        const auto signs = measure::patchSigns(frame, chart, *homography, reading.patches);
        for (size_t i = 0; i < signs.size(); ++i)
            evidence.signs[chart.patches[i].id] = signs[i];
    }
    if (chart.id == "even-field")
        if (const auto quality = evenFieldQuality(frame))
            evidence.falloff = quality->falloff;
    if (withEdges)
        evidence.edges = edgeSpread(frame, chart, *homography);
    return evidence;
}

/// Patches switched off by hand have no say.
static Reading withoutLeftOut(const Reading &reading)
{
    Reading out = reading;
    std::erase_if(out.patches, [&](const PatchReading &patch) { return reading.isLeftOut(patch.id); });
    return out;
}

std::vector<Check> captureChecks(const Reading &whole, const ChartDefinition &chart,
                                 const CaptureEvidence &evidence, const CaptureLimits &limits)
{
    if (!whole.found)
        return {checkFound(whole, chart)};
    const Reading reading = withoutLeftOut(whole);
    const auto match = checkMatch(chart, evidence.match, limits);
    auto checks =
        std::vector<Check>{checkFound(whole, chart), checkClipping(reading, chart, limits),
                           checkExposure(reading, chart, limits), checkUnderexposure(reading, limits)};
    // Light, glare and fingers can only be told from patches whose colours are known.
    const bool known = chart.colorsKnown && match.severity == Severity::Ok;
    if (known) {
        checks.push_back(checkEvenness(reading, chart, evidence, limits));
        checks.push_back(checkShadow(reading, chart, evidence, limits));
        checks.push_back(checkGlare(reading, chart, evidence, limits));
    }
    checks.push_back(checkFocus(evidence, limits));
    checks.push_back(checkNoise(reading, chart, limits));
    if (known) {
        checks.push_back(checkFlare(chart, evidence, limits));
        checks.push_back(checkObstruction(evidence, limits));
    }
    checks.push_back(match);
    return checks;
}

} // namespace wavechroma
