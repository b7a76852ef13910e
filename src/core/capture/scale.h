#pragma once
#include "core/chart/chart_geometry.h"
#include "core/chart/reading.h"

#include <optional>

namespace wavechroma {

inline constexpr double kMmPerInch = 25.4;

/// How large things come out in a frame.
struct Scale
{
    double pixelsPerMm = 0; ///< over the whole chart: root of its area in pixels over its area in mm
    double lean = 0; ///< how much larger one edge of the chart comes out than the edge across from it, 0…:
                     ///< perspective of a camera that does not look at it squarely; a copy needs it near 0
    double distortion = 0; ///< of the lens, see LensShape

    [[nodiscard]] double pixelsPerInch() const { return pixelsPerMm * kMmPerInch; }
};
/// From a chart's known size. Nothing when the chart was not found.
[[nodiscard]] std::optional<Scale> scaleOf(const Reading &reading, const ChartDefinition &chart);
/// From a ruler in the frame: two points that are `millimetres` apart. Nothing when they coincide or the
/// length is not positive.
[[nodiscard]] std::optional<double> pixelsPerMmBetween(const PixelPoint &from, const PixelPoint &to,
                                                       double millimetres);

/// Radial distortion of a lens (see LensShape) from the charts that one camera saw through it: the median, in
/// which a chart counts by its patches and the sixth power of how far it reaches from the middle of the
/// frame, for the displacement that shows distortion grows by the third. One frame of a grid that fills the
/// picture has the say over many charts in its middle. Those of less than 20 patches do not tell (see
/// measure/refine.h). 0 where none does.
[[nodiscard]] double lensDistortion(const std::vector<const Reading *> &readings);

/// Whether a scale, the lens and the lean are within `tolerance`. An intended figure of 0 is none.
struct ScaleVerdict
{
    Scale scale;
    double intendedPpi = 0;
    bool good = true;
    double error = 0; ///< relative, signed; 0 without an intended figure
    bool isBent = false, isLeaning = false;
};
[[nodiscard]] ScaleVerdict verdictOn(const Scale &scale, double intendedPpi, double tolerance,
                                     double mostDistortion);

} // namespace wavechroma
