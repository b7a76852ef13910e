#pragma once
#include "core/measure/lattice.h"
#include "core/raw/overview.h"

#include <span>

namespace wavechroma::measure {

/// A chart laid on a lattice: which way up and which part of it.
struct Placement
{
    Homography pictureFromChart; ///< chart mm → overview coordinates
    double colourFit = 0; ///< share of the reference colours' variance explained by one 3×3 matrix, 0…1
    int nodes = 0;        ///< patches of the chart that are lattice nodes
};

/// Mean of a small window of the overview round a point; nothing outside.
[[nodiscard]] std::optional<Vector3> colourAt(const Overview &o, const PixelPoint &p, int reach);

/// How well camera colours of all patches (chart order) fit the chart under *some* light and camera: one free
/// 3×3 matrix from camera RGB to reference XYZ, each patch weighted by its reference's lightness, and a plane
/// of light over the chart (at most half as strong again at one edge as in the middle) and a veil of up to 8
/// % of white, the worst twelfth of the patches, two at least, left out (a finger, a reflection). 1 is
/// perfect; a wrong orientation gives less than 0.8. Patches with no reading (negative) are left out too.
///
/// Of charts of 20 patches and more that this explains to less than 0.93, the likeliest shadow is taken out
/// (fit/shadow_edge.h) or the worst third of the patches (a band of glare), and that counts where it explains
/// 0.93: right placements give 0.94 and more then, wrong turns 0.2.
[[nodiscard]] double colourFit(const ChartDefinition &chart, const std::vector<Vector3> &patches);

/// The placement of each chart on this lattice, over all turns and shifts, whose colours fit best; of a chart
/// where none reaches `leastFit`, the one that covers most nodes (colours of another chart say nothing of the
/// place). Nothing where the lattice is too small for a chart. Shadow and glare are looked for only while
/// nothing fits to 0.93 without them. Of a chart of several panels without known colours the place
/// where most patches of the other panels are `candidates` too, which then count as its nodes.
[[nodiscard]] std::vector<std::optional<Placement>> identify(const Overview &overview, const Lattice &lattice,
                                                             std::span<const ChartDefinition *const> charts,
                                                             double leastFit,
                                                             const std::vector<Candidate> &candidates);

} // namespace wavechroma::measure
