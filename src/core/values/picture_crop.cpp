#include "core/values/picture_crop.h"

#include "core/values/setting_row.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace wavechroma {

std::string cropText(const PictureCrop &crop)
{
    using setting_detail::textOfNumber;
    if (crop.squared) {
        std::string out;
        for (const auto &corner : *crop.squared)
            out += textOfNumber(corner.x) + "," + textOfNumber(corner.y) + ",";
        return out + textOfNumber(crop.width) + "," + textOfNumber(crop.height);
    }
    const auto out = textOfNumber(crop.x) + "," + textOfNumber(crop.y) + "," + textOfNumber(crop.width) +
                     "," + textOfNumber(crop.height);
    return crop.degrees == 0 ? out : out + "," + textOfNumber(crop.degrees);
}

std::optional<PictureCrop> cropFrom(const std::string &text)
{
    std::vector<double> numbers;
    for (size_t from = 0; from <= text.size();) {
        const auto end = std::min(text.find(',', from), text.size());
        const auto number = numberFrom(std::string_view(text).substr(from, end - from));
        if (!number)
            return std::nullopt;
        numbers.push_back(*number);
        from = end + 1;
    }
    return cropFrom(numbers);
}

std::optional<PictureCrop> cropFrom(const std::vector<double> &numbers)
{
    if (numbers.size() == 10) {
        PictureCrop out{0, 0, numbers[8], numbers[9], 0, std::array<CropCorner, 4>{}};
        for (size_t i = 0; i < 4; ++i)
            (*out.squared)[i] = {numbers[2 * i], numbers[2 * i + 1]};
        return out;
    }
    if (numbers.size() < 4 || numbers.size() > 5)
        return std::nullopt;
    return PictureCrop{numbers[0], numbers[1], numbers[2], numbers[3], numbers.size() == 5 ? numbers[4] : 0};
}

std::array<CropCorner, 4> cornersOf(const PictureCrop &crop)
{
    if (crop.squared)
        return *crop.squared;
    const double angle = crop.degrees * std::numbers::pi / 180, c = std::cos(angle), s = std::sin(angle);
    const double middleX = crop.x + crop.width / 2, middleY = crop.y + crop.height / 2;
    const auto turned = [&](double alongX, double alongY) {
        const double dx = alongX * crop.width / 2, dy = alongY * crop.height / 2;
        return CropCorner{middleX + c * dx + s * dy,
                          middleY - s * dx + c * dy}; // y points down: back, so that the picture turns on
    };
    return {turned(-1, -1), turned(1, -1), turned(1, 1), turned(-1, 1)};
}

/// Twice the area of the corner's triangle, positive where the way round is clockwise (y points down).
static double turnAt(const std::array<CropCorner, 4> &corners, size_t i)
{
    const auto &a = corners[i], &b = corners[(i + 1) % 4], &c = corners[(i + 2) % 4];
    return (b.x - a.x) * (c.y - b.y) - (b.y - a.y) * (c.x - b.x);
}

bool isWithin(const PictureCrop &crop, int width, int height)
{
    constexpr double kSlack = 0.01;
    const double most = 2.0 * std::max(width, height);
    for (size_t i = 0; crop.squared && i < 4; ++i)
        if (!(turnAt(*crop.squared, i) >= 1) || crop.width > most || crop.height > most)
            return false;
    const auto corners = cornersOf(crop);
    return crop.width >= 1 && crop.height >= 1 && std::abs(crop.degrees) <= 45 &&
           std::all_of(corners.begin(), corners.end(), [&](const CropCorner &p) {
               return p.x >= -kSlack && p.y >= -kSlack && p.x <= width + kSlack && p.y <= height + kSlack;
           });
}

} // namespace wavechroma
