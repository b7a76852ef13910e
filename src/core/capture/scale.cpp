#include "core/capture/scale.h"

#include <algorithm>
#include <cmath>

namespace wavechroma {

static double between(const PixelPoint &a, const PixelPoint &b)
{
    return std::hypot(a.x - b.x, a.y - b.y);
}

std::optional<Scale> scaleOf(const Reading &reading, const ChartDefinition &chart)
{
    const auto extent = chartExtent(chart);
    if (!reading.found || !(extent.x > 0 && extent.y > 0))
        return std::nullopt;
    const auto &c = reading.corners;
    double twice = 0;
    for (size_t i = 0; i < 4; ++i)
        twice += c[i].x * c[(i + 1) % 4].y - c[(i + 1) % 4].x * c[i].y;
    const double top = between(c[0], c[1]), right = between(c[1], c[2]), bottom = between(c[2], c[3]),
                 left = between(c[3], c[0]);
    if (!(std::min({top, right, bottom, left}) > 0))
        return std::nullopt;
    Scale scale;
    scale.pixelsPerMm = std::sqrt(std::abs(twice) / 2 / (extent.x * extent.y));
    scale.lean = std::max(std::max(top, bottom) / std::min(top, bottom),
                          std::max(left, right) / std::min(left, right)) -
                 1;
    scale.distortion = reading.distortion;
    return scale;
}

std::optional<double> pixelsPerMmBetween(const PixelPoint &from, const PixelPoint &to, double millimetres)
{
    const double pixels = between(from, to);
    return pixels > 0 && millimetres > 0 && std::isfinite(pixels / millimetres)
               ? std::optional(pixels / millimetres)
               : std::nullopt;
}

double lensDistortion(const std::vector<const Reading *> &readings)
{
    std::vector<std::pair<double, double>> said; // and its weight
    double all = 0;
    for (const auto *reading : readings) {
        if (!reading->found || reading->patches.size() < 20)
            continue;
        const PixelPoint middle{reading->width / 2.0, reading->height / 2.0};
        double reach = 0;
        for (const auto &corner : reading->corners)
            reach = std::max(reach, between(middle, corner) / between(middle, {0, 0}));
        said.emplace_back(reading->distortion, double(reading->patches.size()) * std::pow(reach, 6));
        all += said.back().second;
    }
    std::sort(said.begin(), said.end());
    double below = 0;
    for (const auto &[distortion, weight] : said)
        if ((below += weight) >= all / 2)
            return distortion;
    return 0;
}

ScaleVerdict verdictOn(const Scale &scale, double intendedPpi, double tolerance, double mostDistortion)
{
    ScaleVerdict verdict{scale, intendedPpi};
    if (intendedPpi > 0) {
        verdict.error = scale.pixelsPerInch() / intendedPpi - 1;
        verdict.good = std::abs(verdict.error) <= tolerance;
    }
    verdict.isBent = std::abs(scale.distortion) > mostDistortion;
    verdict.isLeaning = intendedPpi > 0 && scale.lean > 2 * tolerance;
    verdict.good = verdict.good && !verdict.isBent && !verdict.isLeaning;
    return verdict;
}

} // namespace wavechroma
