#pragma once
#include "core/chart/chart_geometry.h"

#include <algorithm>
#include <cmath>

namespace wavechroma::measure {

/// Which pixels of a row lie inside a shape; `to` not included.
struct RowSpan
{
    int from = 0, to = 0;
};

/// Pixel x has its centre at x + 0.5.
[[nodiscard]] inline RowSpan centresBetween(double low, double high, int width)
{
    return {std::max(0, int(std::ceil(low - 0.5))), std::min(width, int(std::floor(high - 0.5)) + 1)};
}

/// Returns the span of a convex quadrilateral at height `y` in a frame of that width.
[[nodiscard]] inline RowSpan rowSpan(const Quad &quad, double y, int width)
{
    double low = 1e30, high = -1e30;
    for (size_t i = 0; i < 4; ++i) {
        const auto &a = quad[i], &b = quad[(i + 1) % 4];
        if ((a.y <= y) == (b.y <= y))
            continue;
        const double x = a.x + (b.x - a.x) * (y - a.y) / (b.y - a.y);
        low = std::min(low, x);
        high = std::max(high, x);
    }
    if (low > high)
        return {};
    return centresBetween(low, high, width);
}

/// Rows of a frame so high that a quadrilateral reaches into.
[[nodiscard]] inline RowSpan rowsOf(const Quad &quad, int height)
{
    const auto [top, bottom] = std::minmax({quad[0].y, quad[1].y, quad[2].y, quad[3].y});
    return {int(std::clamp(std::floor(top), 0.0, double(height))),
            int(std::clamp(std::floor(bottom) + 1, 0.0, double(height)))};
}

} // namespace wavechroma::measure
