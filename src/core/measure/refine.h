#pragma once
#include "core/chart/chart_geometry.h"
#include "core/raw/raw_frame.h"

namespace wavechroma::measure {

/// Moves a roughly placed chart onto the printed patches' real edges: along both axes of every patch the two
/// places are found where the colour is half way between patch and surround; their middle is the patch's
/// centre, their distance its true size. A homography through the centres (outliers dropped) and the median
/// size give the corners. Patches without contrast to their surround are passed over; with fewer than 6
/// usable ones the rough corners come back. With 20 centres or more the lens' radial distortion is estimated
/// too, and kept when it explains a third of what the homography leaves. `rough` maps chart mm to frame
/// pixels.
struct RefinedPlace
{
    Corners corners;
    LensShape lens;
};
[[nodiscard]] RefinedPlace refinedPlace(const RawFrame &frame, const ChartDefinition &chart,
                                        const Homography &rough);

} // namespace wavechroma::measure
