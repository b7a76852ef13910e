#include "core/values/picture_crop.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace wavechroma {

std::array<CropCorner, 4> cornersOf(const PictureCrop &crop)
{
    const double angle = crop.degrees * std::numbers::pi / 180, c = std::cos(angle), s = std::sin(angle);
    const double middleX = crop.x + crop.width / 2, middleY = crop.y + crop.height / 2;
    const auto turned = [&](double alongX, double alongY) {
        const double dx = alongX * crop.width / 2, dy = alongY * crop.height / 2;
        return CropCorner{middleX + c * dx + s * dy,
                          middleY - s * dx + c * dy}; // y points down: back, so that the picture turns on
    };
    return {turned(-1, -1), turned(1, -1), turned(1, 1), turned(-1, 1)};
}

bool isWithin(const PictureCrop &crop, int width, int height)
{
    constexpr double kSlack = 0.01;
    const auto corners = cornersOf(crop);
    return crop.width >= 1 && crop.height >= 1 && std::abs(crop.degrees) <= 45 &&
           std::all_of(corners.begin(), corners.end(), [&](const CropCorner &p) {
               return p.x >= -kSlack && p.y >= -kSlack && p.x <= width + kSlack && p.y <= height + kSlack;
           });
}

} // namespace wavechroma
