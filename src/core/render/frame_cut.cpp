#include "core/render/frame_cut.h"

#include "core/render/upright_pixels.h"

#include <algorithm>
#include <cmath>

namespace wavechroma {

namespace {

PictureCrop inWholePixels(PictureCrop crop, int width, int height)
{
    crop.width = std::clamp(std::round(crop.width), 1.0, double(width));
    crop.height = std::clamp(std::round(crop.height), 1.0, double(height));
    if (crop.degrees != 0)
        return crop;
    crop.x = std::clamp(std::round(crop.x), 0.0, width - crop.width);
    crop.y = std::clamp(std::round(crop.y), 0.0, height - crop.height);
    return crop;
}

} // namespace

FrameCut cutOf(const RawFrame &frame, const std::optional<PictureCrop> &asked)
{
    FrameCut out;
    out.width = frame.width;
    out.height = frame.height;
    if (!asked)
        return out;
    const UprightPixels whole(frame.width, frame.height, frame.orientation);
    const auto crop = inWholePixels(*asked, whole.width, whole.height);
    const auto corners = cornersOf(crop);
    out.isWhole = false;
    out.isTurned = crop.degrees != 0;
    out.width = int(whole.isTurned ? crop.height : crop.width);
    out.height = int(whole.isTurned ? crop.width : crop.height);
    const UprightPixels own(out.width, out.height, frame.orientation);
    /// A corner of the cut in the whole frame.
    const auto placed = [&](double x, double y) {
        const auto u = own.toUpright({x, y});
        const double acrossX = (corners[1].x - corners[0].x) / crop.width,
                     acrossY = (corners[1].y - corners[0].y) / crop.width;
        return whole.toFrame(
            {corners[0].x + u.x * acrossX - u.y * acrossY, corners[0].y + u.x * acrossY + u.y * acrossX});
    };
    const auto origin = placed(0, 0), right = placed(1, 0), below = placed(0, 1);
    out.from = origin;
    out.turn = {right.x - origin.x, below.x - origin.x, right.y - origin.y, below.y - origin.y};
    if (!out.isTurned) { // whole pixels to the last digit
        out.from = {std::round(origin.x), std::round(origin.y)};
        out.turn = {1, 0, 0, 1};
    }
    return out;
}

} // namespace wavechroma
