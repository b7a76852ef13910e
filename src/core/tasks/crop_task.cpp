#include "core/tasks/crop_task.h"

#include "core/base/number_text.h"
#include "core/render/upright_pixels.h"

#include <Eigen/Geometry>
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

using Corner3 = Eigen::Vector3d;

/// Width over height of a rectangle of which these are the corners, seen by a lens whose axis is the middle.
double ratioOf(const std::array<CropCorner, 4> &corners, const UprightPixels &upright)
{
    const double longSide = std::max(upright.width, upright.height);
    const auto seen = [&](size_t i) {
        return Corner3((corners[i].x - upright.width / 2.0) / longSide,
                       (corners[i].y - upright.height / 2.0) / longSide, 1);
    };
    const Corner3 m1 = seen(0), m2 = seen(1), m3 = seen(3), m4 = seen(2);
    const double k2 = m1.cross(m4).dot(m3) / m2.cross(m4).dot(m3),
                 k3 = m1.cross(m4).dot(m2) / m3.cross(m4).dot(m2);
    const Corner3 n2 = k2 * m2 - m1, n3 = k3 * m3 - m1;
    // Below this the sides are as good as parallel, and what they say of the lens is the hand's unrest.
    constexpr double kParallel = 0.02, kUsualLength = 1.2, kShortest = 0.4, kLongest = 8;
    double length2 = kUsualLength * kUsualLength;
    if (std::abs(n2.z()) > kParallel && std::abs(n3.z()) > kParallel) {
        const double told = -(n2.x() * n3.x() + n2.y() * n3.y()) / (n2.z() * n3.z());
        if (told > kShortest * kShortest && told < kLongest * kLongest)
            length2 = told;
    }
    const auto side2 = [&](const Corner3 &n) {
        return (n.x() * n.x() + n.y() * n.y()) / length2 + n.z() * n.z();
    };
    return std::sqrt(side2(n2) / side2(n3));
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
    if (crop.squared) // it is square already: the line is of something else
        crop = {0, 0, double(upright.width), double(upright.height), 0};
    crop.degrees = levelling(b.x - a.x, b.y - a.y);
    return drawnIn(crop, upright);
}

std::optional<PictureCrop> cropByCorners(const JobFrame &frame, const Corners &corners)
{
    const auto upright = uprightOf(frame);
    PictureCrop out;
    out.squared.emplace();
    for (size_t i = 0; i < 4; ++i) {
        const auto p = upright.toUpright(corners[i]);
        (*out.squared)[i] = {std::clamp(p.x, 0.0, double(upright.width)),
                             std::clamp(p.y, 0.0, double(upright.height))};
    }
    const auto &c = *out.squared;
    const auto apart = [&](size_t a, size_t b) { return std::hypot(c[a].x - c[b].x, c[a].y - c[b].y); };
    const double wide = std::max(apart(0, 1), apart(3, 2)), high = std::max(apart(0, 3), apart(1, 2));
    if (wide < 1 || high < 1)
        return std::nullopt;
    // As many pixels as the longer sides have, in the thing's own ratio.
    const double ratio = std::clamp(ratioOf(c, upright), wide / high / 4, wide / high * 4);
    out.width = std::max(1.0, std::round(std::max(wide, high * ratio)));
    out.height = std::max(1.0, std::round(out.width / ratio));
    if (!isWithin(out, upright.width, upright.height))
        return std::nullopt;
    return out;
}

PictureCrop cropToRatio(const JobFrame &frame, double ratio)
{
    auto crop = present(frame);
    if (crop.squared) {
        crop.width = std::max(1.0, std::round(std::max(crop.width, crop.height * ratio)));
        crop.height = std::max(1.0, std::round(crop.width / ratio));
        return crop;
    }
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
