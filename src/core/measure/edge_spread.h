#pragma once
#include "core/chart/chart_geometry.h"
#include "core/raw/raw_frame.h"

#include <optional>

namespace wavechroma {

/// How soft the picture is at the chart: standard deviation of the edge's blur in frame pixels, across edges
/// that run down the chart (`across`) and along it (`along`). The two differ when camera or chart moved.
struct EdgeSpread
{
    double across = 0, along = 0;
    int edges = 0; ///< that were good enough
};

/// Slanted edges as ISO 12233:2017, annex D, uses them: green samples near a patch's side are laid out by
/// their distance from it, which resolves finer than a pixel; the 10 % to 90 % width of the step is 2.563
/// standard deviations of a Gaussian blur. The median over all sides with contrast, beside which the noise is
/// small. Nothing when the gaps between patches are under 5 pixels, or fewer than 4 sides each way can be
/// judged.
[[nodiscard]] std::optional<EdgeSpread> edgeSpread(const RawFrame &frame, const ChartDefinition &chart,
                                                   const Homography &homography);

} // namespace wavechroma
