#pragma once
#include <array>
#include <optional>
#include <string>
#include <vector>

namespace wavechroma {

/// A place in the upright picture at full size, pixels.
struct CropCorner
{
    double x = 0, y = 0;
    bool operator==(const CropCorner &) const = default;
};

/// What of a picture is delivered: the upright picture at full size is turned clockwise about the rectangle's
/// middle, then the rectangle is cut out. Nothing of it may lie outside the picture.
struct PictureCrop
{
    double x = 0, y = 0, width = 0, height = 0; ///< pixels
    double degrees = 0;                         ///< that the picture is turned by, −45…45
    /// Of a flat thing seen at a slant, in place of x, y and degrees, which are 0: top left, top right,
    /// bottom right and bottom left of what is delivered. The perspective is taken out, to width × height.
    std::optional<std::array<CropCorner, 4>> squared = {};
    bool operator==(const PictureCrop &) const = default;
};

/// "x,y,width,height[,degrees]", or eight numbers of the corners and ",width,height", as `render --crop`
/// takes it, and back; nothing for any other text.
[[nodiscard]] std::string cropText(const PictureCrop &crop);
[[nodiscard]] std::optional<PictureCrop> cropFrom(const std::string &text);
[[nodiscard]] std::optional<PictureCrop> cropFrom(const std::vector<double> &numbers);

/// Where in the picture, before it is turned, the corners lie: top left, top right, bottom right, bottom left
/// of what is delivered.
[[nodiscard]] std::array<CropCorner, 4> cornersOf(const PictureCrop &crop);
/// Does it lie within a picture of that size (to a hundredth of a pixel), at least a pixel large? A rectangle
/// may be turned by at most 45 degrees; corners are convex and run clockwise, and what comes of them is at
/// most twice as wide and high as the picture's longer side.
[[nodiscard]] bool isWithin(const PictureCrop &crop, int width, int height);

} // namespace wavechroma
