#include "core/chart/chart_geometry.h"

#include "core/base/symmetric_eigen.h"

#include <Eigen/Core>
#include <Eigen/LU>
#include <algorithm>
#include <cmath>
#include <numbers>

namespace wavechroma {

PixelPoint Homography::at(const ChartPoint &p) const
{
    const Vector3 v = pictureFromChart * Vector3{p.x, p.y, 1};
    return lens.bent({v[0] / v[2], v[1] / v[2]});
}

LensShape LensShape::of(double distortion, int width, int height)
{
    return {distortion, {width / 2.0, height / 2.0}, std::hypot(width, height) / 2};
}

PixelPoint LensShape::bent(const PixelPoint &p) const
{
    if (distortion == 0)
        return p;
    const double x = p.x - middle.x, y = p.y - middle.y,
                 k = 1 + distortion * (x * x + y * y) / (halfDiagonal * halfDiagonal);
    return {middle.x + k * x, middle.y + k * y};
}

PixelPoint LensShape::straight(const PixelPoint &p) const
{
    if (distortion == 0)
        return p;
    const double x = p.x - middle.x, y = p.y - middle.y, seen = std::hypot(x, y) / halfDiagonal;
    double r = seen;
    for (int i = 0; i < 12; ++i)
        r -= (r * (1 + distortion * r * r) - seen) / std::max(0.1, 1 + 3 * distortion * r * r);
    const double k = seen > 0 ? r / seen : 1;
    return {middle.x + k * x, middle.y + k * y};
}

static double columnOffset(const ChartDefinition &chart, int column)
{
    const bool second = chart.panelGap && column >= chart.panelGap->afterColumn;
    return chart.pitchXMm * column + (second ? chart.panelGap->widthMm : 0);
}

static const PatchPlace *placeOf(const ChartDefinition &chart, int row, int column)
{
    return chart.places.empty() ? nullptr : &chart.places[size_t(row * chart.columns + column)];
}

ChartPoint chartExtent(const ChartDefinition &chart)
{
    if (!chart.places.empty()) {
        ChartPoint furthest;
        for (const auto &place : chart.places)
            furthest = {std::max(furthest.x, place.x + place.widthMm / 2),
                        std::max(furthest.y, place.y + place.heightMm / 2)};
        return furthest;
    }
    return {columnOffset(chart, chart.columns - 1) + chart.patchWidthMm,
            chart.pitchYMm * (chart.rows - 1) + chart.patchHeightMm};
}

ChartPoint patchOrigin(const ChartDefinition &chart, int row, int column)
{
    if (placeOf(chart, row, column)) {
        const auto centre = patchCentre(chart, row, column), size = patchSize(chart, row, column);
        return {centre.x - size.x / 2, centre.y - size.y / 2};
    }
    return {columnOffset(chart, column), chart.pitchYMm * row};
}

ChartPoint patchCentre(const ChartDefinition &chart, int row, int column)
{
    if (const auto *place = placeOf(chart, row, column))
        return {place->x, place->y};
    const auto origin = patchOrigin(chart, row, column);
    return {origin.x + chart.patchWidthMm / 2, origin.y + chart.patchHeightMm / 2};
}

ChartPoint patchSize(const ChartDefinition &chart, int row, int column)
{
    const auto *place = placeOf(chart, row, column);
    if (!place)
        return {chart.patchWidthMm, chart.patchHeightMm};
    const double share = place->isDisc ? std::numbers::sqrt2 / 2 : 1;
    return {share * place->widthMm, share * place->heightMm};
}

namespace {

/// Moves the centroid to 0 and the mean distance to √2 (Hartley 1997, eq. 5), which keeps the system well
/// conditioned.
template <class Point> Eigen::Matrix3d normalisation(std::span<const Point> points)
{
    double cx = 0, cy = 0, distance = 0;
    for (const auto &p : points) {
        cx += p.x / double(points.size());
        cy += p.y / double(points.size());
    }
    for (const auto &p : points)
        distance += std::hypot(p.x - cx, p.y - cy) / double(points.size());
    const double s = distance > 0 ? std::sqrt(2.0) / distance : 1;
    Eigen::Matrix3d t;
    t << s, 0, -s * cx, 0, s, -s * cy, 0, 0, 1;
    return t;
}

double cross(const PixelPoint &a, const PixelPoint &b, const PixelPoint &c)
{
    return (b.x - a.x) * (c.y - b.y) - (b.y - a.y) * (c.x - b.x);
}

} // namespace

std::optional<Homography> homographyFrom(std::span<const ChartPoint> chart,
                                         std::span<const PixelPoint> picture)
{
    const auto count = Eigen::Index(chart.size());
    if (count < 4 || picture.size() != chart.size())
        return std::nullopt;
    const Eigen::Matrix3d tc = normalisation(chart), tp = normalisation(picture);
    Eigen::MatrixXd rows(2 * count, 9);
    for (Eigen::Index i = 0; i < count; ++i) {
        const Eigen::Vector3d c = tc * Eigen::Vector3d(chart[size_t(i)].x, chart[size_t(i)].y, 1);
        const Eigen::Vector3d p = tp * Eigen::Vector3d(picture[size_t(i)].x, picture[size_t(i)].y, 1);
        rows.row(2 * i) << c.x(), c.y(), 1, 0, 0, 0, -p.x() * c.x(), -p.x() * c.y(), -p.x();
        rows.row(2 * i + 1) << 0, 0, 0, c.x(), c.y(), 1, -p.y() * c.x(), -p.y() * c.y(), -p.y();
    }
    const auto solved = symmetricEigen(rows.transpose() * rows);
    if (!rows.allFinite() || solved.values(1) < 1e-9 * solved.values(8))
        return std::nullopt;
    const Eigen::VectorXd h = solved.vectors.col(0);
    Eigen::Matrix3d m;
    m << h(0), h(1), h(2), h(3), h(4), h(5), h(6), h(7), h(8);
    m = tp.inverse() * m * tc;
    if (!m.allFinite() || std::abs(m(2, 2)) < 1e-12)
        return std::nullopt;
    m /= m(2, 2);
    Homography out;
    for (int i = 0; i < 3; ++i)
        for (int j = 0; j < 3; ++j)
            out.pictureFromChart(i, j) = m(i, j);
    return out;
}

std::optional<Homography> homographyFrom(const ChartDefinition &chart, const Corners &corners,
                                         const LensShape &lens)
{
    for (size_t i = 0; i < 4; ++i) {
        const double turn = cross(corners[i], corners[(i + 1) % 4], corners[(i + 2) % 4]);
        if (!(turn > 1e-6)) // y runs down, so clockwise turns are positive; also refuses NaN
            return std::nullopt;
    }
    const auto extent = chartExtent(chart);
    const ChartPoint points[] = {{0, 0}, {extent.x, 0}, {extent.x, extent.y}, {0, extent.y}};
    Corners flat = corners;
    for (auto &corner : flat)
        corner = lens.straight(corner);
    auto out = homographyFrom(points, flat);
    if (out)
        out->lens = lens;
    return out;
}

Corners cornersFrom(const ChartDefinition &chart, const Homography &homography)
{
    const auto extent = chartExtent(chart);
    return {homography.at({0, 0}), homography.at({extent.x, 0}), homography.at({extent.x, extent.y}),
            homography.at({0, extent.y})};
}

Quad patchWindow(const ChartDefinition &chart, const Homography &homography, int row, int column,
                 double share)
{
    const auto c = patchCentre(chart, row, column);
    const auto size = patchSize(chart, row, column);
    const double dx = size.x * share / 2, dy = size.y * share / 2;
    return {homography.at({c.x - dx, c.y - dy}), homography.at({c.x + dx, c.y - dy}),
            homography.at({c.x + dx, c.y + dy}), homography.at({c.x - dx, c.y + dy})};
}

double pitchPixels(const ChartDefinition &chart, const Homography &homography)
{
    const auto corners = cornersFrom(chart, homography);
    const auto length = [&](int i, int j) {
        return std::hypot(corners[size_t(i)].x - corners[size_t(j)].x,
                          corners[size_t(i)].y - corners[size_t(j)].y);
    };
    const auto extent = chartExtent(chart);
    return ((length(0, 1) + length(3, 2)) / 2 * chart.pitchXMm / extent.x +
            (length(0, 3) + length(1, 2)) / 2 * chart.pitchYMm / extent.y) /
           2;
}

} // namespace wavechroma
