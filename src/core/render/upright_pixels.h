#pragma once
#include "core/chart/chart_geometry.h"
#include "core/raw/overview.h"

#include <cstddef>

namespace wavechroma {

/// Maps a frame's pixels to the upright picture (EXIF orientation 1…8).
struct UprightPixels
{
    int width = 0, height = 0;      ///< of the upright picture
    bool isTurned = false;          ///< the frame's rows are its columns
    ptrdiff_t first = 0;            ///< index of the frame's first pixel, row by row in the upright picture
    ptrdiff_t stepX = 0, stepY = 0; ///< from one frame pixel to the next in its row, in its column

    UprightPixels(int frameWidth, int frameHeight, int orientation)
        : isTurned(orientation >= 5 && orientation <= 8), m_frameWidth(frameWidth), m_frameHeight(frameHeight)
    {
        width = isTurned ? frameHeight : frameWidth;
        height = isTurned ? frameWidth : frameHeight;
        const bool fromRight = orientation == 2 || orientation == 3 || orientation == 6 || orientation == 7;
        const bool fromBelow = orientation == 3 || orientation == 4 || orientation == 7 || orientation == 8;
        const ptrdiff_t across = fromRight ? -1 : 1, down = fromBelow ? -ptrdiff_t(width) : ptrdiff_t(width);
        stepX = isTurned ? down : across;
        stepY = isTurned ? across : down;
        first = (fromRight ? width - 1 : 0) + ptrdiff_t(fromBelow ? height - 1 : 0) * width;
        m_isFromEndX = isTurned ? fromBelow : fromRight;
        m_isFromEndY = isTurned ? fromRight : fromBelow;
    }

    /// The part of the frame that upright rows `from`…`to` − 1 show.
    [[nodiscard]] PixelArea rows(int from, int to) const { return area({0, from, width, to - from}); }
    /// The part of the frame that a part of the upright picture shows.
    [[nodiscard]] PixelArea area(const PixelArea &upright) const
    {
        PixelArea out = upright;
        if (isTurned)
            out = {upright.y, upright.x, upright.height, upright.width};
        if (m_isFromEndX)
            out.x = m_frameWidth - out.x - out.width;
        if (m_isFromEndY)
            out.y = m_frameHeight - out.y - out.height;
        return out;
    }

    /// A place of the upright picture in the frame, and back; pixel coordinates both.
    [[nodiscard]] PixelPoint toFrame(const PixelPoint &upright) const
    {
        const PixelPoint p = isTurned ? PixelPoint{upright.y, upright.x} : upright;
        return {m_isFromEndX ? m_frameWidth - p.x : p.x, m_isFromEndY ? m_frameHeight - p.y : p.y};
    }
    [[nodiscard]] PixelPoint toUpright(const PixelPoint &frame) const
    {
        const PixelPoint p{m_isFromEndX ? m_frameWidth - frame.x : frame.x,
                           m_isFromEndY ? m_frameHeight - frame.y : frame.y};
        return isTurned ? PixelPoint{p.y, p.x} : p;
    }

private:
    int m_frameWidth, m_frameHeight;
    bool m_isFromEndX = false, m_isFromEndY = false;
};

} // namespace wavechroma
