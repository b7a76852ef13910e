#include "core/render/frame_cut.h"

#include "core/render/upright_pixels.h"

#include <algorithm>
#include <cmath>

namespace wavechroma {

namespace {

PictureCrop inWholePixels(PictureCrop crop, int width, int height)
{
    if (crop.squared) {
        crop.width = std::max(1.0, std::round(crop.width));
        crop.height = std::max(1.0, std::round(crop.height));
        return crop;
    }
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
    out.isBetween = crop.degrees != 0 || crop.squared;
    out.width = int(whole.isTurned ? crop.height : crop.width);
    out.height = int(whole.isTurned ? crop.width : crop.height);
    const UprightPixels own(out.width, out.height, frame.orientation);
    const std::array<PixelPoint, 4> upright{
        PixelPoint{0, 0}, {crop.width, 0}, {crop.width, crop.height}, {0, crop.height}};
    std::array<ChartPoint, 4> inCut; // the plane that a homography maps from
    std::array<PixelPoint, 4> inFrame;
    for (size_t i = 0; i < 4; ++i) {
        const auto p = own.toFrame(upright[i]);
        inCut[i] = {p.x, p.y};
        inFrame[i] = whole.toFrame({corners[i].x, corners[i].y});
    }
    out.from = inFrame[size_t(
        std::min_element(inCut.begin(), inCut.end(), [](auto &a, auto &b) { return a.x + a.y < b.x + b.y; }) -
        inCut.begin())];
    if (const auto placed = homographyFrom(inCut, inFrame); out.isBetween && placed)
        out.frameFromCut = placed->pictureFromChart;
    if (!out.isBetween) { // whole pixels to the last digit
        out.from = {std::round(out.from.x), std::round(out.from.y)};
        out.frameFromCut(0, 2) = out.from.x;
        out.frameFromCut(1, 2) = out.from.y;
    }
    return out;
}

} // namespace wavechroma
