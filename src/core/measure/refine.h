#pragma once
#include "core/chart/chart_geometry.h"
#include "core/raw/raw_frame.h"

namespace wavechroma::measure {

/// Moves a roughly placed chart onto the printed patches' real edges: along both axes of every patch the two places are
/// found where the colour is half way between patch and surround; their middle is the patch's centre, their distance its
/// true size. A homography through the centres (outliers dropped) and the median size give the corners. Patches without
/// contrast to their surround are passed over; with fewer than 6 usable ones the rough corners come back.
/// `rough` maps chart mm to frame pixels.
[[nodiscard]] Corners refinedCorners(const RawFrame &frame, const ChartDefinition &chart, const Homography &rough);

} // namespace wavechroma::measure
