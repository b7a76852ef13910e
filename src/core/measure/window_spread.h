#pragma once
#include "core/chart/chart_geometry.h"
#include "core/raw/overview.h"
#include "core/raw/raw_frame.h"

namespace wavechroma::measure {

/// How far a chart's windows are from lying each on one colour, for trying many placements quickly. Needs no
/// known colours.
class WindowSpread
{
public:
    /// Works on a reduced picture of the surroundings of a rough placement; some 40 pixels a pitch.
    WindowSpread(const RawFrame &frame, const ChartDefinition &chart, const Homography &rough);
    /// The mean over the patches of their windows' relative variance (84 % of the patch's sides), each
    /// counted up to 0.05, so that a few spoilt patches do not decide. 0 is perfect; a window outside the
    /// picture counts in full.
    [[nodiscard]] double at(const Homography &place) const;

private:
    const ChartDefinition &m_chart;
    PixelArea m_area;
    Overview m_picture;
};

} // namespace wavechroma::measure
