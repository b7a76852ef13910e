#pragma once
#include "core/chart/chart_geometry.h"
#include "core/values/reading.h"
#include "core/values/scale.h"

#include <optional>

namespace wavechroma {

/// Returns the scale from a chart's known size; nothing if the chart was not found.
[[nodiscard]] std::optional<Scale> scaleOf(const Reading &reading, const ChartDefinition &chart);
/// Returns the scale from a ruler in the frame: two points that are `millimetres` apart. Nothing if they
/// coincide or the length is not positive.
[[nodiscard]] std::optional<double> pixelsPerMmBetween(const PixelPoint &from, const PixelPoint &to,
                                                       double millimetres);

/// Radial distortion of a lens (see LensShape) from the charts that one camera saw through it: the median, in
/// which a chart counts by its patches and the sixth power of how far it reaches from the middle of the
/// frame, for the displacement that shows distortion grows by the third. One frame of a grid that fills the
/// picture has the say over many charts in its middle. Those of less than 20 patches do not tell (see
/// measure/refine.h). 0 where none does.
[[nodiscard]] double lensDistortion(const std::vector<const Reading *> &readings);

[[nodiscard]] ScaleVerdict verdictOn(const Scale &scale, double intendedPpi, double tolerance,
                                     double mostDistortion);

} // namespace wavechroma
