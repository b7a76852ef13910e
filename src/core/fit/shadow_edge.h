#pragma once
#include "core/fit/capture_model.h"

#include <optional>
#include <vector>

namespace wavechroma {

/// The straight edge, or the two edges, of a shadow that lies across a chart: two levels of one light.
struct ShadowEdge
{
    Vector3 share{1, 1, 1}; ///< light in the shadow over that beside it, one a camera channel, 0…1
    Vector3 veil{0, 0, 0};  ///< camera RGB that lies over both sides: no light of the lamp's on the chart
    double stops = 0;       ///< by how much it is darker, from green; 0 or more
    /// One a patch, in the order given: is it in the shadow; is the edge on it, so that its level is neither.
    std::vector<bool> inside, crossed;
    double darkU = 0,
           darkV = 0; ///< from the middle of the lit patches to that of the shaded ones, chart units
};

/// The division of the chart by one line, or by two parallel ones, that two levels of light explain best
/// under some 3×3 from XYZ to camera RGB. Every line in 32 directions is tried: with the dark side's values
/// divided by its share the least-squares matrix depends on the share linearly, so that the best share of a
/// division has a closed form. The worst twelfth of the patches, two at least, is left out in a second round.
/// There always is a likeliest one; see shadowOver() for whether it is there. Nothing with fewer than 16
/// patches, or where they do not tell a matrix.
[[nodiscard]] std::optional<ShadowEdge> likeliestShadow(const std::vector<PlacedPatch> &patches);

/// The shadow that lies over the chart, if one does: with it in the capture model (capture_fit.h) the patches
/// must agree better than with any smoothly changing light, by Schwarz's criterion (1978), and by enough of a
/// step to stand out from what the model leaves of a clean chart.
[[nodiscard]] std::optional<ShadowEdge> shadowOver(const std::vector<PlacedPatch> &patches);

/// The patches as they would be without the shadow; those that its edge lies on are left out.
[[nodiscard]] std::vector<PlacedPatch> withoutShadow(const std::vector<PlacedPatch> &patches,
                                                     const ShadowEdge &shadow);

} // namespace wavechroma
