#include "core/capture/picture_side.h"

#include "core/measure/upright.h"

#include <algorithm>
#include <cmath>

namespace wavechroma {

static Side sideTowards(const PixelPoint &direction)
{
    const double x = direction.x, y = direction.y;
    if (std::abs(x) > 2.4 * std::abs(y)) // within 22.5° of level
        return x < 0 ? Side::Left : Side::Right;
    if (std::abs(y) > 2.4 * std::abs(x))
        return y < 0 ? Side::Top : Side::Bottom;
    if (y < 0)
        return x < 0 ? Side::TopLeft : Side::TopRight;
    return x < 0 ? Side::BottomLeft : Side::BottomRight;
}

Side sideOf(const Homography &homography, const ChartDefinition &chart, int orientation,
            const ChartPoint &way)
{
    const auto extent = chartExtent(chart);
    const double reach = 0.1 * std::min(extent.x, extent.y) / std::max(1e-12, std::hypot(way.x, way.y));
    const ChartPoint middle{extent.x / 2, extent.y / 2};
    const auto from = homography.at(middle),
               to = homography.at({middle.x + reach * way.x, middle.y + reach * way.y});
    return sideTowards(upright({to.x - from.x, to.y - from.y}, orientation));
}

} // namespace wavechroma
