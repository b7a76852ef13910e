#pragma once
#include <QTransform>

namespace wavechroma::app {

/// Frame pixels → upright picture pixels, by the EXIF orientation (where the stored row 0 and column 0 lie in
/// the upright picture) of a frame of that size.
[[nodiscard]] inline QTransform uprightTransform(int orientation, double w, double h)
{
    switch (orientation) {
    case 2:
        return {-1, 0, 0, 1, w, 0};
    case 3:
        return {-1, 0, 0, -1, w, h};
    case 4:
        return {1, 0, 0, -1, 0, h};
    case 5:
        return {0, 1, 1, 0, 0, 0};
    case 6:
        return {0, 1, -1, 0, h, 0};
    case 7:
        return {0, -1, -1, 0, h, w};
    case 8:
        return {0, -1, 1, 0, 0, w};
    default:
        return {};
    }
}

} // namespace wavechroma::app
