#include "core/measure/follow.h"
#include "core/raw/overview.h"

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>

namespace wavechroma {

namespace {

constexpr double kSurroundings = 6; ///< radii round a place that tell it from others
constexpr double kLeastRound = 0.1; ///< of the frame's longer side
constexpr double kReach = 0.2;      ///< of the frame's longer side
constexpr double kAlike = 0.7;      ///< least correlation

/// Camera RGB as roots, so that dark parts count too.
cv::Mat pictureOf(const Overview &overview)
{
    cv::Mat out(overview.height, overview.width, CV_32FC3);
    const float *from = overview.rgb.data();
    for (int y = 0; y < overview.height; ++y)
        for (float *to = out.ptr<float>(y), *end = to + 3 * overview.width; to < end; ++to)
            *to = std::sqrt(std::max(0.0F, *from++));
    return out;
}

cv::Rect within(const cv::Rect &area, const Overview &overview)
{
    return area & cv::Rect(0, 0, overview.width, overview.height);
}

/// Between the best whole pixel and its neighbours: the top of a parabola.
double finer(float before, float at, float after)
{
    const double bend = double(before) - 2 * double(at) + double(after);
    return bend < -1e-9 ? std::clamp(0.5 * (double(before) - double(after)) / bend, -0.5, 0.5) : 0;
}

} // namespace

std::optional<Followed> followed(const Overview &from, const Overview &to, const PixelPoint &place,
                                 double radius)
{
    if (from.width != to.width || from.height != to.height || from.block != to.block || from.rgb.empty())
        return std::nullopt;
    const double block = from.block;
    const cv::Point2d centre(place.x / block, place.y / block);
    const double round =
        std::max(kSurroundings * radius, kLeastRound * std::max(from.width, from.height) * block);
    const int half = std::max(4, int(std::lround(round / block)));
    const cv::Rect known =
        within({int(centre.x) - half, int(centre.y) - half, 2 * half + 1, 2 * half + 1}, from);
    if (known.width < 5 || known.height < 5)
        return std::nullopt;
    // what has moved half out of the frame is still to be seen by its other half
    const int reach = int(kReach * std::max(from.width, from.height));
    cv::Mat beyond;
    cv::copyMakeBorder(pictureOf(to), beyond, reach, reach, reach, reach, cv::BORDER_REPLICATE);
    const cv::Rect searched(known.x, known.y, known.width + 2 * reach, known.height + 2 * reach);
    cv::Mat likeness;
    cv::matchTemplate(beyond(searched), pictureOf(from)(known), likeness, cv::TM_CCOEFF_NORMED);
    double best = 0;
    cv::Point at;
    cv::minMaxLoc(likeness, nullptr, &best, nullptr, &at);
    if (!(best >= kAlike))
        return std::nullopt;
    const auto value = [&](int x, int y) {
        return likeness.at<float>(std::clamp(y, 0, likeness.rows - 1), std::clamp(x, 0, likeness.cols - 1));
    };
    const double dx = at.x - reach + finer(value(at.x - 1, at.y), float(best), value(at.x + 1, at.y)),
                 dy = at.y - reach + finer(value(at.x, at.y - 1), float(best), value(at.x, at.y + 1));
    return Followed{{place.x + dx * block, place.y + dy * block}, std::min(1.0, best)};
}

} // namespace wavechroma
