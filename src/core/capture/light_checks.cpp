#include "core/capture/capture_checks.h"

#include "core/balance/balance.h"
#include "core/base/statistics.h"
#include "core/capture/picture_side.h"
#include "core/color/de2000.h"
#include "core/color/lab.h"

#include <algorithm>
#include <cmath>

namespace wavechroma {

namespace {

/// Colour alone may be the sensor's own way of seeing: a patch counts as spoilt sooner where the picture
/// itself shows that something lies on it.
bool isSeen(const CaptureEvidence &evidence, const std::string &patch)
{
    const auto sign = evidence.signs.find(patch);
    return sign != evidence.signs.end() && sign->second >= 1;
}

/// What is left of a patch, relative to its level with a floor, as one number; and whether it is light of the
/// lamp's own colour laid on top.
struct Misfit
{
    double relative = 0;
    bool isGlare = false;
    double added = 0;    ///< share of a perfect diffuser
    bool isSeen = false; ///< the picture shows that something is on the patch
};

Misfit misfitOf(const CaptureEvidence &evidence, size_t index)
{
    const auto &model = *evidence.model;
    const auto &patch = evidence.patches[index];
    const auto &left = model.left[index];
    const double x = left.x / kD50White.x, y = left.y, z = left.z / kD50White.z;
    Misfit m;
    // of the patch's strongest channel: what a poor sensor leaves of a deep red is much beside its lightness
    const auto &should = patch.patch.reference;
    const double level = std::max({should.x / kD50White.x, should.y, should.z / kD50White.z}) + 0.04;
    m.relative = std::sqrt((x * x + y * y + z * z) / 3) / level;
    const double least = std::min({x, y, z}), most = std::max({x, y, z});
    m.added = y;
    m.isSeen = isSeen(evidence, patch.patch.id);
    // glare has the light's own colour, a finger its own: told apart as far as the model's own scatter lets
    const double doubt = 2 * model.scatter * level;
    m.isGlare = least > 0.45 * most && least + doubt > 0.75 * (most - doubt) &&
                y > (m.isSeen ? 2.5 : 5) * model.scatter * level;
    return m;
}

constexpr double kColourAlone = 2.5; ///< times the limit; from there on no sign in the picture is asked for
constexpr double kOtherColour = 16;  ///< ΔE2000 that no camera's own error comes to beside colours that fit

/// What is left of a patch as a difference of colour.
double differenceOf(const PlacedPatch &patch, const Xyz &left)
{
    const auto &should = patch.patch.reference;
    const auto seen = Xyz{should.x + left.x, should.y + left.y, should.z + left.z};
    return de2000(labFromXyz(seen), labFromXyz(should));
}

} // namespace

Check checkEvenness(const Reading &reading, const ChartDefinition &chart, const CaptureEvidence &evidence,
                    const CaptureLimits &limits)
{
    Check check{CheckId::Evenness, Severity::Ok, 0, limits.unevenness, "share", {}, "even"};
    if (evidence.falloff) {
        check.value = *evidence.falloff;
        const bool even = check.value < limits.unevenness;
        check.severity = even                              ? Severity::Ok
                         : check.value > limits.mostUneven ? Severity::Stop
                                                           : Severity::Warn;
        check.finding = even ? "even" : "field";
        return check;
    }
    const auto homography = homographyFrom(chart, reading.corners, reading.lens());
    if (!evidence.model || !homography) {
        check.finding = "too-few";
        return check;
    }
    const double gx = evidence.model->gainX, gy = evidence.model->gainY, swing = std::abs(gx) + std::abs(gy);
    check.value = 2 * swing / (1 + swing);
    if (check.value < limits.unevenness)
        return check;
    check.severity = check.value > limits.mostUneven ? Severity::Stop : Severity::Warn;
    check.finding = "side";
    // against the gradient; u and v run over half the chart's width and height
    const auto extent = chartExtent(chart);
    check.side = sideOf(*homography, chart, reading.orientation, {-gx / extent.x, -gy / extent.y});
    return check;
}

Check checkShadow(const Reading &reading, const ChartDefinition &chart, const CaptureEvidence &evidence,
                  const CaptureLimits &limits)
{
    Check check{CheckId::Shadow, Severity::Ok, 0, limits.shadow, "stops", {}, "none"};
    const auto homography = homographyFrom(chart, reading.corners, reading.lens());
    if (!evidence.shadow || !homography)
        return check;
    check.value = evidence.shadow->stops;
    if (check.value < limits.shadow)
        return check;
    check.severity = check.value > limits.deepShadow ? Severity::Stop : Severity::Warn;
    check.finding = "edge";
    check.stops = check.value;
    check.patches = evidence.shaded;
    const auto extent = chartExtent(chart);
    check.side = sideOf(*homography, chart, reading.orientation,
                        {evidence.shadow->darkU * extent.x, evidence.shadow->darkV * extent.y});
    return check;
}

Check checkGlare(const Reading &reading, const ChartDefinition &chart, const CaptureEvidence &evidence,
                 const CaptureLimits &limits)
{
    Check check{CheckId::Glare, Severity::Ok, 0, limits.glare, "share", {}, "none"};
    if (!evidence.model)
        return check;
    for (size_t i = 0; i < evidence.patches.size(); ++i) {
        const auto m = misfitOf(evidence, i);
        if (!m.isGlare || !m.isSeen)
            continue;
        check.value = std::max(check.value, m.added);
        if (m.added > limits.glare)
            check.patches.push_back(evidence.patches[i].patch.id);
    }
    // A patch that is clipped though its own colour would be far from it has a lamp in it.
    for (const auto &patch : reading.patches) {
        const auto *reference = chart.patch(patch.id);
        if (patch.clipped < kMostClipped || !reference)
            continue;
        const auto should = evidence.model->cameraFromXyz * vectorOf(reference->reference);
        const double most = *std::max_element(should.begin(), should.end());
        if (most < 0.7 || (most < 0.97 && isSeen(evidence, patch.id))) {
            check.patches.push_back(patch.id);
            check.value = std::max(check.value, 1 - should[1]);
        }
    }
    if (!check.patches.empty()) {
        check.severity = Severity::Stop;
        check.finding = "glare";
    }
    return check;
}

Check checkFlare(const ChartDefinition &chart, const CaptureEvidence &evidence, const CaptureLimits &limits)
{
    Check check{CheckId::Flare, Severity::Ok, 0, limits.flare, "share", {}, "none"};
    if (!evidence.model)
        return check;
    check.value = std::max(0.0, evidence.model->flare);
    if (check.value < limits.flare)
        return check;
    if (!chart.neutral.empty())
        check.patches = {chart.neutral.back()};
    check.severity = check.value > limits.mostFlare ? Severity::Stop : Severity::Warn;
    check.finding = "veil";
    return check;
}

Check checkObstruction(const CaptureEvidence &evidence, const CaptureLimits &limits)
{
    Check check{CheckId::Obstruction, Severity::Ok, 0, limits.misfit, "relative", {}, "none"};
    if (!evidence.model)
        return check;
    const double limit = std::max(limits.misfit, 7 * evidence.model->scatter);
    check.limit = limit;
    // a finger may be as light as what it covers: then its colour tells
    std::vector<double> differences;
    for (size_t i = 0; i < evidence.patches.size(); ++i)
        differences.push_back(differenceOf(evidence.patches[i], evidence.model->left[i]));
    const double mostDifference = std::max(kOtherColour, 6 * medianOf(differences));
    std::vector<std::string> covered, otherwise; // seen to be; by their colour alone
    for (size_t i = 0; i < evidence.patches.size(); ++i) {
        const auto m = misfitOf(evidence, i);
        if (m.isGlare && m.isSeen)
            continue;
        const double misfit = std::max(m.relative, limit * differences[i] / mostDifference),
                     most = m.isSeen ? limit : kColourAlone * limit;
        if (misfit / most > check.value / check.limit) {
            check.value = misfit;
            check.limit = most;
        }
        if (misfit > most)
            (m.isSeen ? covered : otherwise).push_back(evidence.patches[i].patch.id);
    }
    if (!covered.empty()) {
        check.severity = Severity::Stop;
        check.finding = covered.size() == 1 ? "one" : "several";
        check.patches = covered;
    } else if (!otherwise.empty()) {
        check.severity = Severity::Warn;
        check.finding = "colour";
        check.patches = otherwise;
    }
    return check;
}

} // namespace wavechroma
