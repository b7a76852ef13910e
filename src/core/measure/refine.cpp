#include "core/measure/refine.h"

#include "core/base/statistics.h"
#include "core/raw/overview.h"

#include <algorithm>
#include <cmath>
#include <tbb/parallel_for.h>

namespace wavechroma::measure {

namespace {

constexpr double kOtherSize = 0.12; ///< relative

/// The part of the frame round the chart at a scale of some 40 pixels a pitch.
struct CloseUp
{
    Overview picture;
    PixelArea area;

    std::optional<Vector3> at(const PixelPoint &p) const
    {
        const double x = (p.x - area.x) / picture.block - 0.5, y = (p.y - area.y) / picture.block - 0.5;
        if (!(x >= 0 && y >= 0 && x < picture.width - 1 && y < picture.height - 1))
            return std::nullopt;
        const int x0 = int(x), y0 = int(y);
        const double fx = x - x0, fy = y - y0;
        Vector3 out{};
        for (size_t c = 0; c < 3; ++c) {
            const auto v = [&](int px, int py) {
                return double(picture.rgb[(size_t(py) * size_t(picture.width) + size_t(px)) * 3 + c]);
            };
            out[c] = (v(x0, y0) * (1 - fx) + v(x0 + 1, y0) * fx) * (1 - fy) +
                     (v(x0, y0 + 1) * (1 - fx) + v(x0 + 1, y0 + 1) * fx) * fy;
        }
        return out;
    }
};

CloseUp closeUpOf(const RawFrame &frame, const ChartDefinition &chart, const Homography &rough)
{
    const auto corners = cornersFrom(chart, rough);
    const double pitch = pitchPixels(chart, rough);
    double left = 1e9, right = -1e9, top = 1e9, bottom = -1e9;
    for (const auto &p : corners) {
        left = std::min(left, p.x - pitch);
        right = std::max(right, p.x + pitch);
        top = std::min(top, p.y - pitch);
        bottom = std::max(bottom, p.y + pitch);
    }
    CloseUp close;
    const auto pixel = [](double v) { return int(std::clamp(v, 0.0, 1e6)); };
    close.area = {pixel(left), pixel(top), pixel(right) - pixel(left), pixel(bottom) - pixel(top)};
    close.picture = overviewOf(frame, std::max(1, int(pitch / 40)), close.area);
    return close;
}

/// From a patch's centre outwards along one direction: the distance in mm where the colour has gone half way
/// to that of the surround. Nothing without contrast.
std::optional<double> halfWay(const CloseUp &close, const Homography &h, const ChartPoint &centre, double ux,
                              double uy, double halfSize, double gap)
{
    constexpr int kSteps = 40;
    const double reach = halfSize + 0.75 * gap;
    std::array<Vector3, kSteps + 1> profile;
    for (int i = 0; i <= kSteps; ++i) {
        const double t = reach * (0.35 + 0.65 * i / kSteps);
        Vector3 mean{};
        int count = 0;
        for (int side = -2; side <= 2; ++side) { // five lines across the patch's central half
            const double s = side * halfSize / 4;
            if (const auto v = close.at(h.at({centre.x + ux * t - uy * s, centre.y + uy * t + ux * s}))) {
                for (size_t c = 0; c < 3; ++c)
                    mean[c] += (*v)[c];
                ++count;
            }
        }
        if (count < 5)
            return std::nullopt;
        for (double &v : mean)
            v /= count;
        profile[size_t(i)] = mean;
    }
    Vector3 inner{}, difference{};
    for (size_t i = 0; i < 12; ++i)
        for (size_t c = 0; c < 3; ++c)
            inner[c] += profile[i][c] / 12;
    const auto &outer = profile[kSteps];
    double contrast = 0, level = 0;
    for (size_t c = 0; c < 3; ++c) {
        difference[c] = outer[c] - inner[c];
        contrast += difference[c] * difference[c];
        level += inner[c] * inner[c] + outer[c] * outer[c];
    }
    if (contrast < 0.03 * level || contrast < 1e-5)
        return std::nullopt;
    double before = 0;
    for (int i = 0; i <= kSteps; ++i) {
        double along = 0;
        for (size_t c = 0; c < 3; ++c)
            along += (profile[size_t(i)][c] - inner[c]) * difference[c] / contrast;
        if (along >= 0.5) {
            const double part = i == 0 ? 0 : (0.5 - before) / (along - before);
            return reach * (0.35 + 0.65 * (i - 1 + part) / kSteps);
        }
        before = along;
    }
    return std::nullopt;
}

struct Edges
{
    std::vector<ChartPoint> nominal;     // where the definition has the patch's centre
    std::vector<PixelPoint> seen;        // where it is on the frame
    std::vector<double> widths, heights; // over those of the definition
};

Edges edgesOf(const CloseUp &close, const ChartDefinition &chart, const Homography &h)
{
    Edges edges;
    const double gapX = std::max(chart.pitchXMm - chart.patchWidthMm, 0.04 * chart.patchWidthMm);
    const double gapY = std::max(chart.pitchYMm - chart.patchHeightMm, 0.04 * chart.patchHeightMm);
    struct Seen
    {
        std::optional<double> right, left, down, up;
    };
    std::vector<Seen> all(chart.patches.size());
    const auto centreOf = [&](size_t i) {
        return patchCentre(chart, int(i) / chart.columns, int(i) % chart.columns);
    };
    const auto sizeOf = [&](size_t i) {
        if (chart.places.empty())
            return ChartPoint{chart.patchWidthMm, chart.patchHeightMm};
        // of five lines across a disc's central half, the middle one leaves it there
        const double share = chart.places[i].isDisc ? std::sqrt(1 - 0.25 * 0.25) : 1;
        return ChartPoint{share * chart.places[i].widthMm, share * chart.places[i].heightMm};
    };
    tbb::parallel_for(size_t(0), all.size(), [&](size_t i) {
        const auto centre = centreOf(i);
        const double halfW = sizeOf(i).x / 2, halfH = sizeOf(i).y / 2;
        all[i] = {halfWay(close, h, centre, 1, 0, halfW, gapX), halfWay(close, h, centre, -1, 0, halfW, gapX),
                  halfWay(close, h, centre, 0, 1, halfH, gapY),
                  halfWay(close, h, centre, 0, -1, halfH, gapY)};
    });
    for (size_t i = 0; i < all.size(); ++i) {
        const auto &[right, left, down, up] = all[i];
        if (!right || !left || !down || !up)
            continue;
        const auto centre = centreOf(i);
        edges.nominal.push_back(centre);
        edges.seen.push_back(h.at({centre.x + (*right - *left) / 2, centre.y + (*down - *up) / 2}));
        edges.widths.push_back((*right + *left) / sizeOf(i).x);
        edges.heights.push_back((*down + *up) / sizeOf(i).y);
    }
    return edges;
}

/// Without patches of another size than those round them (a lens' distortion changes sizes slowly): an edge
/// of them is another thing's, as of a shadow or a finger.
Edges ofOneSize(const Edges &edges, const ChartDefinition &chart)
{
    Edges out;
    for (size_t i = 0; i < edges.seen.size(); ++i) {
        std::vector<double> widths, heights;
        for (size_t j = 0; j < edges.seen.size(); ++j)
            if (std::hypot((edges.nominal[i].x - edges.nominal[j].x) / chart.pitchXMm,
                           (edges.nominal[i].y - edges.nominal[j].y) / chart.pitchYMm) < 1.6) {
                widths.push_back(edges.widths[j]);
                heights.push_back(edges.heights[j]);
            }
        if (std::abs(edges.widths[i] / medianOf(widths) - 1) > kOtherSize ||
            std::abs(edges.heights[i] / medianOf(heights) - 1) > kOtherSize)
            continue;
        out.nominal.push_back(edges.nominal[i]);
        out.seen.push_back(edges.seen[i]);
        out.widths.push_back(edges.widths[i]);
        out.heights.push_back(edges.heights[i]);
    }
    return out.seen.size() >= 8 ? out : edges;
}

struct Fit
{
    Homography homography;
    double squares = 0; // of what it leaves, pixels
};

/// The homography through the centres as a lens of this shape would have them without its bending.
std::optional<Fit> fitWith(const Edges &edges, const LensShape &lens)
{
    std::vector<PixelPoint> straight;
    for (const auto &p : edges.seen)
        straight.push_back(lens.straight(p));
    auto homography = homographyFrom(edges.nominal, straight);
    if (!homography)
        return std::nullopt;
    homography->lens = lens;
    Fit fit{*homography, 0};
    for (size_t i = 0; i < edges.seen.size(); ++i) {
        const auto p = homography->at(edges.nominal[i]);
        fit.squares += std::pow(p.x - edges.seen[i].x, 2) + std::pow(p.y - edges.seen[i].y, 2);
    }
    return fit;
}

/// The squares run almost as a parabola over the distortion: its lowest point, twice, the second time close
/// by.
std::optional<Fit> lensFit(const Edges &edges, const LensShape &straight)
{
    double k = 0;
    std::optional<Fit> best;
    for (const double step : {0.05, 0.01}) {
        double squares[3];
        for (int i = 0; i < 3; ++i) {
            auto lens = straight;
            lens.distortion = k + step * (i - 1);
            const auto fit = fitWith(edges, lens);
            if (!fit)
                return std::nullopt;
            squares[i] = fit->squares;
        }
        const double bend = squares[0] - 2 * squares[1] + squares[2];
        if (!(bend > 0))
            return std::nullopt;
        k = std::clamp(k + step * (squares[0] - squares[2]) / (2 * bend), -0.25, 0.25);
        auto lens = straight;
        lens.distortion = k;
        best = fitWith(edges, lens);
    }
    return best;
}

/// Least squares, then again without the points further off than three times the median distance.
std::optional<Homography> trimmedFit(const Edges &edges, const LensShape &straight)
{
    const auto fitted = [&](const Edges &e) -> std::optional<Fit> {
        const auto plain = fitWith(e, straight);
        if (!plain || e.seen.size() < 20)
            return plain;
        const auto bent = lensFit(e, straight);
        return bent && bent->squares < 0.67 * plain->squares ? bent : plain;
    };
    const auto first = fitted(edges);
    if (!first)
        return std::nullopt;
    std::vector<double> off;
    for (size_t i = 0; i < edges.seen.size(); ++i) {
        const auto p = first->homography.at(edges.nominal[i]);
        off.push_back(std::hypot(p.x - edges.seen[i].x, p.y - edges.seen[i].y));
    }
    const double limit = 3 * medianOf(off) + 1e-6;
    Edges kept;
    for (size_t i = 0; i < off.size(); ++i)
        if (off[i] <= limit) {
            kept.nominal.push_back(edges.nominal[i]);
            kept.seen.push_back(edges.seen[i]);
        }
    const auto second = kept.seen.size() >= 6 ? fitted(kept) : first;
    return second ? std::optional(second->homography) : std::nullopt;
}

} // namespace

RefinedPlace refinedPlace(const RawFrame &frame, const ChartDefinition &chart, const Homography &rough)
{
    const CloseUp close = closeUpOf(frame, chart, rough);
    Homography h = rough;
    double width = 1, height = 1;
    for (int round = 0; round < 2; ++round) {
        const Edges edges = ofOneSize(edgesOf(close, chart, h), chart);
        if (edges.seen.size() < 6)
            break;
        const auto fit = trimmedFit(edges, LensShape::of(0, frame.width, frame.height));
        if (!fit)
            break;
        h = *fit;
        width = medianOf(edges.widths);
        height = medianOf(edges.heights);
    }
    const auto extent = chartExtent(chart);
    const double dx = (width - 1) * chart.patchWidthMm / 2, dy = (height - 1) * chart.patchHeightMm / 2;
    return {{h.at({-dx, -dy}), h.at({extent.x + dx, -dy}), h.at({extent.x + dx, extent.y + dy}),
             h.at({-dx, extent.y + dy})},
            h.lens};
}

} // namespace wavechroma::measure
