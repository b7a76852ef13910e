#pragma once
#include "core/base/matrix3.h"
#include "core/chart/chart_definition.h"

#include <array>
#include <span>

namespace wavechroma {

/// A point on the visible raw area before any orientation flag, x right, y down; (0, 0) is the top-left
/// corner of the first pixel, so that pixel's centre is (0.5, 0.5).
struct PixelPoint
{
    double x = 0, y = 0;
    bool operator==(const PixelPoint &) const = default;
};

/// A point on the upright chart, in millimetres, x right, y down; (0, 0) is the outer corner of the first
/// patch.
struct ChartPoint
{
    double x = 0, y = 0;
};

/// Corners of the rectangle round a layout that is no grid; of a grid, outer corners of the
/// first-row-first-column, first-row-last-column, last-row-last-column and last-row-first-column patch. They
/// say the chart's orientation too.
using Corners = std::array<PixelPoint, 4>;
using Quad = std::array<PixelPoint, 4>;

/// What a lens does to a true perspective picture: a point at distance r from the middle comes out at r (1 +
/// distortion r²), r in half diagonals (Brown 1966, first radial term). Negative: barrel; positive:
/// pincushion.
struct LensShape
{
    double distortion = 0;
    PixelPoint middle;
    double halfDiagonal = 1;

    [[nodiscard]] static LensShape of(double distortion, int width, int height);
    [[nodiscard]] PixelPoint bent(const PixelPoint &p) const;
    /// The reverse, by Newton's method; for |distortion| up to 0.3 inside the frame.
    [[nodiscard]] PixelPoint straight(const PixelPoint &p) const;
};

/// Chart plane → picture plane: (x, y, 1) ∝ H (X, Y, 1), then the lens.
struct Homography
{
    Matrix3 pictureFromChart;
    LensShape lens;
    [[nodiscard]] PixelPoint at(const ChartPoint &p) const;
};

/// Width and height between the outer corners, in mm.
[[nodiscard]] ChartPoint chartExtent(const ChartDefinition &chart);
/// The top-left corner of a patch on the chart.
[[nodiscard]] ChartPoint patchOrigin(const ChartDefinition &chart, int row, int column);
[[nodiscard]] ChartPoint patchCentre(const ChartDefinition &chart, int row, int column);
/// Its width and height in mm; of a disc, those of the square inside.
[[nodiscard]] ChartPoint patchSize(const ChartDefinition &chart, int row, int column);

/// Least-squares homography from at least 4 pairs (direct linear transform with Hartley's 1997 normalisation;
/// exact for 4). Nothing when the points do not fix one: too few, or three of four in a line.
[[nodiscard]] std::optional<Homography> homographyFrom(std::span<const ChartPoint> chart,
                                                       std::span<const PixelPoint> picture);
/// Makes a homography from the chart's four corners. Returns nothing if they do not form a convex
/// quadrilateral running the same way round as the printed chart (a photograph never mirrors it).
[[nodiscard]] std::optional<Homography> homographyFrom(const ChartDefinition &chart, const Corners &corners,
                                                       const LensShape &lens = {});
[[nodiscard]] Corners cornersFrom(const ChartDefinition &chart, const Homography &homography);

/// The window of a patch: its central part, `share` of its width and height (0…1), as a quadrilateral on the
/// picture.
[[nodiscard]] Quad patchWindow(const ChartDefinition &chart, const Homography &homography, int row,
                               int column, double share);
/// The mean distance between neighbouring patch centres, in pixels.
[[nodiscard]] double pitchPixels(const ChartDefinition &chart, const Homography &homography);

} // namespace wavechroma
