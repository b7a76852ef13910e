#pragma once
#include "core/chart/chart_geometry.h"
#include "core/raw/raw_frame.h"

#include <array>
#include <optional>

namespace wavechroma {

struct HandPlace
{
    Corners corners{};
    LensShape lens;
};

/// Corners put near the chart by hand, drawn to the printed patches' real edges: nothing when the edges are
/// not within half a pitch of every corner, or the colours there are not the chart's.
[[nodiscard]] std::optional<HandPlace> snapped(const RawFrame &frame, const ChartDefinition &chart,
                                               const Corners &corners);

/// Three corners tell the rest: the outer ones of the first patch, the last of the first row, and the last
/// patch. The fourth is looked for about the parallelogram's, where every window lies on one colour, and all
/// four are drawn to the edges. Nothing when the three lie in a line or the wrong way round.
[[nodiscard]] std::optional<HandPlace> placedByThree(const RawFrame &frame, const ChartDefinition &chart,
                                                     const std::array<PixelPoint, 3> &three);

} // namespace wavechroma
