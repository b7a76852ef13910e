#include "core/measure/plain_area.h"

#include "core/measure/candidates.h"
#include "core/measure/upright.h"
#include "core/raw/overview.h"

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>

namespace wavechroma::measure {

namespace {

constexpr double kLeastShare = 1 / 70.0; ///< of the frame, for a card is held up to be seen
/// Of the frame's bright end: an 18 % grey under the same light as a white has 0.2, black paint and a chart's
/// frame 0.03.
constexpr double kLeastLevel = 0.06;

/// Green of the frame's bright end, the 99th percentile.
double brightEnd(const Overview &overview)
{
    std::vector<float> greens;
    for (size_t i = 1; i < overview.rgb.size(); i += 3 * 7)
        greens.push_back(overview.rgb[i]);
    const auto at = greens.begin() + ptrdiff_t(greens.size() * 99 / 100);
    std::nth_element(greens.begin(), at, greens.end());
    return double(*at);
}

bool isNeutralGrey(const Overview &overview, const RawFrame &frame, const cv::Mat &region, double bright)
{
    double sum[3]{};
    int n = 0;
    for (int y = 0; y < region.rows; ++y)
        for (int x = 0; x < region.cols; ++x)
            if (region.at<uint8_t>(y, x)) {
                for (int c = 0; c < 3; ++c)
                    sum[c] += double(
                        overview.rgb[(size_t(y) * size_t(overview.width) + size_t(x)) * 3 + size_t(c)]);
                ++n;
            }
    if (n == 0 || !(sum[1] > 0.005 * n) || sum[1] < kLeastLevel * bright * n) // black says nothing
        return false;
    const Vector3 neutral = frame.fileColor.asShotNeutral.value_or(Vector3{1, 1, 1});
    if (!frame.fileColor.asShotNeutral && frame.mosaic)
        return true;
    const double red = sum[0] / sum[1] / (neutral[0] / neutral[1]),
                 blue = sum[2] / sum[1] / (neutral[2] / neutral[1]);
    return std::abs(std::log(red)) < 0.29 && std::abs(std::log(blue)) < 0.29;
}

/// Four corners of a region that is a convex quadrilateral to within a few per cent of its area.
std::optional<Corners> quadOf(const cv::Mat &region)
{
    std::vector<std::vector<cv::Point>> outlines;
    cv::findContours(region, outlines, cv::RETR_EXTERNAL, cv::CHAIN_APPROX_NONE);
    const auto largest = std::max_element(outlines.begin(), outlines.end(), [](const auto &a, const auto &b) {
        return cv::contourArea(a) < cv::contourArea(b);
    });
    if (largest == outlines.end())
        return std::nullopt;
    std::vector<cv::Point> hull, quad;
    cv::convexHull(*largest, hull);
    const double area = cv::contourArea(hull), around = cv::arcLength(hull, true);
    if (cv::contourArea(*largest) < 0.9 * area)
        return std::nullopt;
    for (const double share : {0.01, 0.02, 0.03, 0.05}) {
        cv::approxPolyDP(hull, quad, share * around, true);
        if (quad.size() == 4 && std::abs(cv::contourArea(quad) / area - 1) < 0.06) {
            Corners corners;
            for (size_t i = 0; i < 4; ++i)
                corners[i] = {quad[i].x + 0.5, quad[i].y + 0.5};
            return corners;
        }
        if (quad.size() < 4)
            break;
    }
    return std::nullopt;
}

} // namespace

std::optional<Corners> findPlainArea(const RawFrame &frame)
{
    const Overview overview =
        halved(overviewOf(frame, std::max(1, std::max(frame.width, frame.height) / 1500)));
    const cv::Size size(overview.width, overview.height);
    const double bright = brightEnd(overview);
    FlatRegions regions(overview);
    for (const FlatRule &rule :
         {FlatRule{14, true, 0}, FlatRule{10, false, 0}, FlatRule{14, true, 5}, FlatRule{24, true, 5}}) {
        std::optional<Corners> best;
        double largest = size.area() * kLeastShare;
        const auto [labels, count] = regions.labels(rule);
        std::vector<int> areas(static_cast<size_t>(count));
        for (int y = 0; y < labels.rows; ++y)
            for (int x = 0; x < labels.cols; ++x)
                ++areas[size_t(labels.at<int>(y, x))];
        for (int label = 1; label < count; ++label) {
            if (areas[size_t(label)] <= largest)
                continue;
            cv::Mat region = labels == label;
            // what a speck of dust leaves open
            cv::morphologyEx(region, region, cv::MORPH_CLOSE,
                             cv::getStructuringElement(cv::MORPH_RECT, {9, 9}));
            const auto quad = quadOf(region);
            if (!quad || !isNeutralGrey(overview, frame, region, bright))
                continue;
            // a table that runs out of the frame on several sides is no card
            const int atEdge = int(std::count_if(quad->begin(), quad->end(), [&](const PixelPoint &p) {
                return p.x < 3 || p.y < 3 || p.x > size.width - 3 || p.y > size.height - 3;
            }));
            if (atEdge >= 2)
                continue;
            largest = areas[size_t(label)];
            best = quad;
        }
        if (best) {
            for (auto &p : *best)
                p = {p.x * overview.block, p.y * overview.block};
            return fromTopLeft(*best, frame.orientation);
        }
    }
    return std::nullopt;
}

} // namespace wavechroma::measure
