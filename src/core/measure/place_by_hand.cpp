#include "core/measure/place_by_hand.h"

#include "core/measure/find_chart.h"
#include "core/measure/refine.h"
#include "core/measure/window_spread.h"

#include <algorithm>
#include <cmath>

namespace wavechroma {

static constexpr double kNear = 0.5;  // of the pitch
static constexpr double kStill = 0.1; // pixels
static constexpr int kMostRounds = 8;

static double furthest(const Corners &a, const Corners &b)
{
    double most = 0;
    for (size_t i = 0; i < 4; ++i)
        most = std::max(most, std::hypot(a[i].x - b[i].x, a[i].y - b[i].y));
    return most;
}

/// Drawn to the printed edges until nothing moves.
static std::optional<HandPlace> drawn(const RawFrame &frame, const ChartDefinition &chart,
                                      const Corners &corners)
{
    auto there = homographyFrom(chart, corners);
    HandPlace place{corners, {}};
    for (int round = 0; round < kMostRounds && there; ++round) {
        const auto next = measure::refinedPlace(frame, chart, *there);
        const double step = furthest(next.corners, place.corners);
        place = {next.corners, next.lens};
        there = homographyFrom(chart, place.corners, place.lens);
        if (step < kStill)
            break;
    }
    return there && !(place.corners == corners) ? std::optional(place) : std::nullopt;
}

static double fitOf(const RawFrame &frame, const ChartDefinition &chart, const HandPlace &place)
{
    const auto homography = homographyFrom(chart, place.corners, place.lens);
    return homography ? placementFit(frame, chart, *homography) : 0;
}

static double shorterSide(const Corners &c)
{
    return std::min(std::hypot(c[1].x - c[0].x, c[1].y - c[0].y),
                    std::hypot(c[3].x - c[0].x, c[3].y - c[0].y));
}

/// One corner moved along the two sides that meet at the one across, to where the windows lie each on one
/// colour: a coarse grid, then a fine one about its best. `reach` is a share of the sides.
static Corners settled(const RawFrame &frame, const ChartDefinition &chart, const Homography &rough,
                       const Corners &start, size_t corner, double reach)
{
    const measure::WindowSpread spread(frame, chart, rough);
    const auto &across = start[(corner + 2) % 4], &one = start[(corner + 1) % 4],
               &other = start[(corner + 3) % 4];
    Corners best = start;
    double least = spread.at(rough);
    for (const double step : {reach / 8, reach / 64}) {
        const Corners from = best;
        for (int i = -8; i <= 8; ++i)
            for (int j = -8; j <= 8; ++j) {
                Corners tried = from;
                tried[corner].x += step * (i * (one.x - across.x) + j * (other.x - across.x));
                tried[corner].y += step * (i * (one.y - across.y) + j * (other.y - across.y));
                const auto homography = homographyFrom(chart, tried);
                const double value = homography ? spread.at(*homography) : 1;
                if (value < least) {
                    least = value;
                    best = tried;
                }
            }
    }
    return best;
}

std::optional<HandPlace> snapped(const RawFrame &frame, const ChartDefinition &chart, const Corners &corners)
{
    const auto rough = homographyFrom(chart, corners);
    if (!rough)
        return std::nullopt;
    Corners start = corners; // edges lead on only from near by, so each corner is settled first
    const double reach = kNear * pitchPixels(chart, *rough) / shorterSide(corners);
    for (size_t corner = 0; corner < 4; ++corner)
        if (const auto now = homographyFrom(chart, start))
            start = settled(frame, chart, *now, start, corner, reach);
    const auto place = drawn(frame, chart, start);
    if (!place || furthest(place->corners, corners) > kNear * pitchPixels(chart, *rough) ||
        fitOf(frame, chart, *place) < kLeastColourFit)
        return std::nullopt;
    return place;
}

std::optional<HandPlace> placedByThree(const RawFrame &frame, const ChartDefinition &chart,
                                       const std::array<PixelPoint, 3> &p)
{
    const Corners parallelogram{p[0], p[1], p[2],
                                PixelPoint{p[0].x + p[2].x - p[1].x, p[0].y + p[2].y - p[1].y}};
    const auto rough = homographyFrom(chart, parallelogram);
    if (!rough)
        return std::nullopt;
    // Perspective moves the fourth corner off the parallelogram's; clicks are a few pixels off themselves.
    const HandPlace rest{settled(frame, chart, *rough, parallelogram, 3, 0.32), {}};
    const auto place = drawn(frame, chart, rest.corners);
    if (!place || furthest(place->corners, rest.corners) > kNear * pitchPixels(chart, *rough) ||
        fitOf(frame, chart, *place) < fitOf(frame, chart, rest) - 0.01)
        return rest;
    return place;
}

} // namespace wavechroma
