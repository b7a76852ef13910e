#include "core/fit/settle.h"

#include "core/fit/capture_fit.h"

#include <algorithm>
#include <cmath>

namespace wavechroma {

namespace {

constexpr size_t kFewestToSettle = 16;
constexpr double kSpoiltDeviations = 5, kSpoiltShare = 0.3;

} // namespace

Settled settle(const std::vector<PlacedPatch> &patches, const SettleOptions &options)
{
    Settled out;
    for (const auto &p : patches)
        out.patches.push_back(p.patch);
    if (patches.size() < kFewestToSettle)
        return out;
    std::vector<CaptureFit> tried;
    for (const auto light : {CaptureFit::Shape::Even, CaptureFit::Shape::Bent})
        for (const bool flare : {false, true})
            if ((options.evenLight || light == CaptureFit::Shape::Even) && (options.flare || !flare))
                if (auto fit = fitCapture(patches, {light, flare}); fit && fit->flare > -0.02)
                    tried.push_back(std::move(*fit));
    if (tried.empty())
        return out;
    double scatter = 1e9;
    for (const auto &fit : tried)
        scatter = std::min(scatter, fit.scatter);
    const auto best = std::min_element(tried.begin(), tried.end(), [&](const auto &a, const auto &b) {
        return schwarzCriterion(a, scatter) < schwarzCriterion(b, scatter);
    });
    out.scatter = best->scatter;
    out.flare = best->flare;
    for (size_t i = 0; i < 5; ++i)
        out.gain[i] = best->gain(Eigen::Index(i));
    const Eigen::Vector3d veil = out.flare * (best->b * kPaperWhite);
    for (size_t i = 0; i < best->points.size(); ++i) {
        const auto &point = best->points[i];
        const Eigen::Vector3d rgb = (point.rgb - veil) / best->gainAt(point);
        out.patches[i].rgb = {rgb(0), rgb(1), rgb(2)};
        if (options.spoilt && best->residuals[i] > std::max(kSpoiltDeviations * out.scatter, kSpoiltShare))
            out.spoilt.push_back(out.patches[i].id);
    }
    return out;
}

} // namespace wavechroma
