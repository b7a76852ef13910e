#include "core/measure/place_by_hand.h"

#include "core/measure/find_chart.h"
#include "core/measure/refine.h"

#include <algorithm>
#include <cmath>

namespace wavechroma {

static constexpr double kNear = 0.5; // of the pitch
static constexpr double kWorse = 0.02;

static constexpr double kStill = 0.1; // pixels
static constexpr int kMostRounds = 8;

static double furthest(const Corners &a, const Corners &b)
{
    double most = 0;
    for (size_t i = 0; i < 4; ++i)
        most = std::max(most, std::hypot(a[i].x - b[i].x, a[i].y - b[i].y));
    return most;
}

std::optional<HandPlace> snapped(const RawFrame &frame, const ChartDefinition &chart, const Corners &corners)
{
    const auto rough = homographyFrom(chart, corners);
    if (!rough)
        return std::nullopt;
    // From one corner far off the edges are seen only on the other side of the chart at first: they lead on step by step.
    auto place = measure::refinedPlace(frame, chart, *rough);
    auto there = homographyFrom(chart, place.corners, place.lens);
    for (int round = 0; round < kMostRounds && there; ++round) {
        const auto next = measure::refinedPlace(frame, chart, *there);
        const double step = furthest(next.corners, place.corners);
        place = next;
        there = homographyFrom(chart, place.corners, place.lens);
        if (step < kStill)
            break;
    }
    if (!there || place.corners == corners || furthest(place.corners, corners) > kNear * pitchPixels(chart, *rough) || placementFit(frame, chart, *there) < placementFit(frame, chart, *rough) - kWorse)
        return std::nullopt;
    return HandPlace{place.corners, place.lens};
}

std::optional<HandPlace> placedByThree(const RawFrame &frame, const ChartDefinition &chart, const std::array<PixelPoint, 3> &p)
{
    const PixelPoint fourth{p[0].x + p[2].x - p[1].x, p[0].y + p[2].y - p[1].y};
    if (!homographyFrom(chart, Corners{p[0], p[1], p[2], fourth}))
        return std::nullopt;
    // Perspective moves the fourth corner off the parallelogram's, along its two sides.
    HandPlace best{{p[0], p[1], p[2], fourth}, {}};
    double bestFit = placementFit(frame, chart, *homographyFrom(chart, best.corners));
    constexpr int kSteps = 6;
    for (int i = -kSteps; i <= kSteps && chart.colorsKnown; ++i)
        for (int j = -kSteps; j <= kSteps; ++j) {
            const double u = 0.04 * i, v = 0.04 * j;
            const Corners tried{p[0], p[1], p[2], PixelPoint{fourth.x + u * (p[1].x - p[0].x) + v * (p[2].x - p[1].x), fourth.y + u * (p[1].y - p[0].y) + v * (p[2].y - p[1].y)}};
            const auto homography = homographyFrom(chart, tried);
            const double fit = homography ? placementFit(frame, chart, *homography) : 0;
            // where the colours do not care, as near to the parallelogram as can be
            if (fit - 0.002 * (std::abs(i) + std::abs(j)) > bestFit) {
                bestFit = fit - 0.002 * (std::abs(i) + std::abs(j));
                best.corners = tried;
            }
        }
    return snapped(frame, chart, best.corners).value_or(best);
}

} // namespace wavechroma
