#include "core/chart/drawn_layout.h"

#include <algorithm>
#include <cmath>

namespace wavechroma {

namespace {

std::optional<ChartPoint> onChart(const Homography &place, const PixelPoint &p)
{
    const auto back = inverse(place.pictureFromChart);
    if (!back)
        return std::nullopt;
    const auto q = *back * Vector3{p.x, p.y, 1};
    return ChartPoint{q[0] / q[2], q[1] / q[2]};
}

/// An id that none has yet.
std::string nextId(const ChartDefinition &chart)
{
    size_t number = chart.patches.size() + 1;
    while (chart.patch(std::to_string(number)))
        ++number;
    return std::to_string(number);
}

/// The patches at their places, and where the rectangle round them lies on the frame.
DrawnLayout laid(const ChartDefinition &chart, const std::vector<PatchPlace> &places, const Homography &place)
{
    double left = 1e9, top = 1e9;
    for (const auto &one : places) {
        left = std::min(left, one.x - one.widthMm / 2);
        top = std::min(top, one.y - one.heightMm / 2);
    }
    DrawnLayout out{placedFreely(chart, places), {}};
    const auto extent = chartExtent(out.chart);
    out.corners = {place.at({left, top}), place.at({left + extent.x, top}),
                   place.at({left + extent.x, top + extent.y}), place.at({left, top + extent.y})};
    return out;
}

} // namespace

DrawnLayout outlineOn(const Corners &corners, double widthMm, double heightMm)
{
    DrawnLayout out{plainGrid(1, 1), corners};
    out.chart.patchWidthMm = out.chart.pitchXMm = widthMm;
    out.chart.patchHeightMm = out.chart.pitchYMm = heightMm;
    return out;
}

std::optional<DrawnLayout> withPatch(const DrawnLayout &layout, const PixelPoint &from, const PixelPoint &to,
                                     bool isDisc)
{
    constexpr double kLeastMm = 0.5;
    const auto place = homographyFrom(layout.chart, layout.corners);
    const auto a = place ? onChart(*place, from) : std::nullopt,
               b = place ? onChart(*place, to) : std::nullopt;
    if (!a || !b)
        return std::nullopt;
    PatchPlace drawn{(a->x + b->x) / 2, (a->y + b->y) / 2, std::abs(a->x - b->x), std::abs(a->y - b->y),
                     isDisc};
    if (!(drawn.widthMm >= kLeastMm) || !(drawn.heightMm >= kLeastMm))
        return std::nullopt;
    if (isDisc)
        drawn.widthMm = drawn.heightMm = (drawn.widthMm + drawn.heightMm) / 2;
    auto chart = layout.chart;
    if (chart.places.empty())
        chart.patches.clear();
    auto patch = plainGrid(1, 1).patches.front();
    patch.id = nextId(chart);
    chart.patches.push_back(patch);
    auto places = chart.places;
    places.push_back(drawn);
    return laid(chart, places, *place);
}

std::optional<DrawnLayout> withoutPatch(const DrawnLayout &layout, size_t patch)
{
    const auto place = homographyFrom(layout.chart, layout.corners);
    if (!place || layout.chart.places.size() < 2 || patch >= layout.chart.places.size())
        return std::nullopt;
    auto chart = layout.chart;
    auto places = chart.places;
    chart.patches.erase(chart.patches.begin() + ptrdiff_t(patch));
    places.erase(places.begin() + ptrdiff_t(patch));
    return laid(chart, places, *place);
}

} // namespace wavechroma
