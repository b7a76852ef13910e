#include "core/tasks/crop_task.h"

#include "core/base/number_text.h"
#include "core/render/upright_pixels.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace wavechroma {

namespace {

constexpr double kDegree = std::numbers::pi / 180;

UprightPixels uprightOf(const JobFrame &frame)
{
    return {frame.width, frame.height, frame.orientation};
}

PictureCrop about(const PixelPoint &middle, double width, double height, double degrees)
{
    return {middle.x - width / 2, middle.y - height / 2, width, height, degrees};
}

PixelPoint middleOf(const PictureCrop &crop)
{
    return {crop.x + crop.width / 2, crop.y + crop.height / 2};
}

/// Whole pixels, and smaller about its middle until it lies within the picture.
PictureCrop drawnIn(const PictureCrop &asked, const UprightPixels &upright)
{
    const auto middle = middleOf(asked);
    double low = 0, high = 1;
    if (!isWithin(asked, upright.width, upright.height)) {
        for (int round = 0; round < 40; ++round) {
            const double share = (low + high) / 2;
            const auto smaller = about(middle, asked.width * share, asked.height * share, asked.degrees);
            (isWithin(smaller, upright.width, upright.height) ? low : high) = share;
        }
        high = low;
    }
    const double width = std::max(1.0, std::floor(asked.width * high)),
                 height = std::max(1.0, std::floor(asked.height * high));
    auto out = about(middle, width, height, asked.degrees);
    if (out.degrees == 0) {
        out.x = std::round(out.x);
        out.y = std::round(out.y);
    }
    return out;
}

PictureCrop present(const JobFrame &frame)
{
    const auto upright = uprightOf(frame);
    return frame.crop.value_or(PictureCrop{0, 0, double(upright.width), double(upright.height), 0});
}

/// Degrees that the picture has to be turned by, so that a direction lies along the nearest axis.
double levelling(double dx, double dy)
{
    const double angle = std::atan2(dy, dx) / kDegree; // y points down: positive runs down to the right
    return -std::remainder(angle, 90);
}

} // namespace

std::optional<PictureCrop> cropBetween(const JobFrame &frame, const PixelPoint &from, const PixelPoint &to)
{
    const auto upright = uprightOf(frame);
    const auto a = upright.toUpright(from), b = upright.toUpright(to);
    const double left = std::clamp(std::min(a.x, b.x), 0.0, double(upright.width)),
                 right = std::clamp(std::max(a.x, b.x), 0.0, double(upright.width)),
                 top = std::clamp(std::min(a.y, b.y), 0.0, double(upright.height)),
                 bottom = std::clamp(std::max(a.y, b.y), 0.0, double(upright.height));
    if (right - left < 1 || bottom - top < 1)
        return std::nullopt;
    return drawnIn({left, top, right - left, bottom - top, frame.crop ? frame.crop->degrees : 0}, upright);
}

std::optional<PictureCrop> cropLevelled(const JobFrame &frame, const PixelPoint &from, const PixelPoint &to)
{
    const auto upright = uprightOf(frame);
    const auto a = upright.toUpright(from), b = upright.toUpright(to);
    if (std::hypot(b.x - a.x, b.y - a.y) < 1)
        return std::nullopt;
    auto crop = present(frame);
    crop.degrees = levelling(b.x - a.x, b.y - a.y);
    return drawnIn(crop, upright);
}

std::optional<PictureCrop> cropByCorners(const JobFrame &frame, const std::array<PixelPoint, 3> &corners)
{
    const auto upright = uprightOf(frame);
    const auto a = upright.toUpright(corners[0]), b = upright.toUpright(corners[1]),
               c = upright.toUpright(corners[2]);
    const double width = std::hypot(b.x - a.x, b.y - a.y), height = std::hypot(c.x - b.x, c.y - b.y);
    if (width < 1 || height < 1)
        return std::nullopt;
    // both sides say how it is turned, the longer one more surely
    const double byTop = levelling(b.x - a.x, b.y - a.y), bySide = levelling(c.x - b.x, c.y - b.y);
    const double degrees = (byTop * width + bySide * height) / (width + height);
    return drawnIn(about({(a.x + c.x) / 2, (a.y + c.y) / 2}, width, height, degrees), upright);
}

PictureCrop cropToRatio(const JobFrame &frame, double ratio)
{
    const auto crop = present(frame);
    const double width = std::min(crop.width, crop.height * ratio);
    return drawnIn(about(middleOf(crop), width, width / ratio, crop.degrees), uprightOf(frame));
}

bool fitsOn(const JobFrame &frame, const PictureCrop &crop)
{
    const auto upright = uprightOf(frame);
    return isWithin(crop, upright.width, upright.height);
}

Corners cornersOnFrame(const JobFrame &frame, const PictureCrop &crop)
{
    const auto upright = uprightOf(frame);
    Corners out;
    const auto corners = cornersOf(crop);
    for (size_t i = 0; i < 4; ++i)
        out[i] = upright.toFrame({corners[i].x, corners[i].y});
    return out;
}

std::optional<double> ratioFrom(const std::string &text)
{
    const auto at = text.find_first_of(":x/");
    const auto width = numberFrom(text.substr(0, at));
    const auto height = at == text.npos ? std::optional(1.0) : numberFrom(text.substr(at + 1));
    if (!width || !height || !(*width > 0) || !(*height > 0) || *width / *height > 100 ||
        *height / *width > 100)
        return std::nullopt;
    return *width / *height;
}

} // namespace wavechroma
