#pragma once
#include "core/chart/chart_geometry.h"

#include <algorithm>
#include <cmath>

namespace wavechroma {

/// A direction on the stored picture as it lies on the upright one (EXIF orientation).
inline PixelPoint upright(const PixelPoint &d, int orientation)
{
    switch (orientation) {
    case 2:
        return {-d.x, d.y};
    case 3:
        return {-d.x, -d.y};
    case 4:
        return {d.x, -d.y};
    case 5:
        return {d.y, d.x};
    case 6:
        return {-d.y, d.x};
    case 7:
        return {-d.y, -d.x};
    case 8:
        return {d.y, -d.x};
    default:
        return d;
    }
}

/// The four corners of anything, in the order of Corners with the first one at the top left of the upright
/// picture.
inline Corners fromTopLeft(Corners corners, int orientation)
{
    PixelPoint middle;
    for (const auto &c : corners)
        middle = {middle.x + c.x / 4, middle.y + c.y / 4};
    const auto angle = [&](const PixelPoint &p) { return std::atan2(p.y - middle.y, p.x - middle.x); };
    std::sort(corners.begin(), corners.end(),
              [&](const auto &a, const auto &b) { return angle(a) < angle(b); }); // clockwise: y runs down
    const auto highLeft = [&](const PixelPoint &p) {
        const auto d = upright({p.x - middle.x, p.y - middle.y}, orientation);
        return d.x + d.y;
    };
    std::rotate(corners.begin(),
                std::min_element(corners.begin(), corners.end(),
                                 [&](const auto &a, const auto &b) { return highLeft(a) < highLeft(b); }),
                corners.end());
    return corners;
}

} // namespace wavechroma
