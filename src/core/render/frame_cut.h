#pragma once
#include "core/base/matrix3.h"
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
    /// Place in the frame ∝ this × place in the cut.
    Matrix3 frameFromCut = identity();
    PixelPoint from;        ///< the cut's first corner
    bool isWhole = true;    ///< the frame itself
    bool isBetween = false; ///< its pixels lie between the frame's

    [[nodiscard]] PixelPoint inFrame(double x, double y) const
    {
        const auto p = frameFromCut * Vector3{x, y, 1};
        return {p[0] / p[2], p[1] / p[2]};
    }
};

/// A crop that is not turned is brought to whole pixels. `crop` has to be within the upright picture.
[[nodiscard]] FrameCut cutOf(const RawFrame &frame, const std::optional<PictureCrop> &crop);

} // namespace wavechroma
