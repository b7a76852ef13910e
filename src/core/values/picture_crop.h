#pragma once
#include <array>
#include <optional>
#include <string>

namespace wavechroma {

/// What of a picture is delivered: the upright picture at full size is turned clockwise about the rectangle's
/// middle, then the rectangle is cut out. Nothing of it may lie outside the picture.
struct PictureCrop
{
    double x = 0, y = 0, width = 0, height = 0; ///< pixels
    double degrees = 0;                         ///< that the picture is turned by, −45…45
    bool operator==(const PictureCrop &) const = default;
};

/// "x,y,width,height[,degrees]", as `render --crop` takes it, and back; nothing for any other text.
[[nodiscard]] std::string cropText(const PictureCrop &crop);
[[nodiscard]] std::optional<PictureCrop> cropFrom(const std::string &text);

/// Where in the picture, before it is turned, the corners lie: top left, top right, bottom right, bottom left
/// of what is delivered.
struct CropCorner
{
    double x = 0, y = 0;
};
[[nodiscard]] std::array<CropCorner, 4> cornersOf(const PictureCrop &crop);
/// Is it a rectangle of at least a pixel that lies within a picture of that size (to a hundredth of a pixel),
/// turned by at most 45 degrees?
[[nodiscard]] bool isWithin(const PictureCrop &crop, int width, int height);

} // namespace wavechroma
