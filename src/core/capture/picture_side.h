#pragma once
#include "core/chart/chart_definition.h"
#include "core/chart/chart_geometry.h"
#include "core/values/reading.h"

namespace wavechroma {

/// The side that a way on the chart, in mm, leads to from its middle, on the picture as people see it: one of
/// eight, each 45° wide. `orientation`: EXIF, of the picture.
[[nodiscard]] Side sideOf(const Homography &homography, const ChartDefinition &chart, int orientation,
                          const ChartPoint &way);

} // namespace wavechroma
