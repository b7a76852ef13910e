#pragma once
#include "core/chart/chart_geometry.h"
#include "core/raw/raw_frame.h"
#include "core/values/picture_crop.h"

#include <array>
#include <optional>

namespace wavechroma {

/// The part of a frame that becomes a picture: a frame of its own size, oriented as the whole one, whose
/// pixels lie in the whole one.
struct FrameCut
{
    int width = 0, height = 0;
    /// Row by row: place in the frame = turn × place in the cut + from.
    std::array<double, 4> turn{1, 0, 0, 1};
    PixelPoint from;
    bool isWhole = true;   ///< the frame itself
    bool isTurned = false; ///< its pixels lie between the frame's

    [[nodiscard]] PixelPoint inFrame(double x, double y) const
    {
        return {turn[0] * x + turn[1] * y + from.x, turn[2] * x + turn[3] * y + from.y};
    }
};

/// A crop that is not turned is brought to whole pixels. `crop` has to be within the upright picture.
[[nodiscard]] FrameCut cutOf(const RawFrame &frame, const std::optional<PictureCrop> &crop);

} // namespace wavechroma
