#include "core/measure/edge_spread.h"

#include "core/base/statistics.h"
#include "core/measure/row_span.h"

#include <algorithm>
#include <cmath>
#include <tbb/parallel_for.h>

namespace wavechroma {

namespace {

constexpr double kBin = 0.5; // pixels

struct PatchSide
{
    PixelPoint from, to; // its central part
    double reach = 0;    // pixels to either side that belong to this step alone

    /// At most 64 pixels about the middle: more samples tell no more, and cost.
    [[nodiscard]] PatchSide shortened() const
    {
        const double length = std::hypot(to.x - from.x, to.y - from.y),
                     share = std::min(1.0, 64 / length) / 2;
        const auto at = [&](double t) {
            return PixelPoint{from.x + t * (to.x - from.x), from.y + t * (to.y - from.y)};
        };
        return {at(0.5 - share), at(0.5 + share), reach};
    }
};

/// What lies within its reach.
Quad around(const PatchSide &side)
{
    const double dx = side.to.x - side.from.x, dy = side.to.y - side.from.y,
                 share = side.reach / std::hypot(dx, dy);
    const PixelPoint out{dy * share, -dx * share};
    return {PixelPoint{side.from.x + out.x, side.from.y + out.y},
            {side.to.x + out.x, side.to.y + out.y},
            {side.to.x - out.x, side.to.y - out.y},
            {side.from.x - out.x, side.from.y - out.y}};
}

/// Calls visit(x, light) for the green samples of a part of row y.
template <class Visit>
void visitGreens(const RawFrame &frame, int y, const measure::RowSpan &span, Visit &&visit)
{
    if (!frame.mosaic) {
        for (int x = span.from; x < span.to; ++x)
            visit(x, double(frame.picture->value(size_t(y) * size_t(frame.width) + size_t(x), 1)));
        return;
    }
    const auto &m = *frame.mosaic;
    for (int first = span.from; first < std::min(span.to, span.from + m.periodX); ++first) {
        const size_t cell = m.cell(first, y);
        if (m.channel[cell] != 1)
            continue;
        const float black = m.black[cell], scale = 1 / (m.white - black);
        for (int x = first; x < span.to; x += m.periodX)
            visit(x, double((float(m.code(x, y)) - black) * scale));
    }
}

/// Mean green level by distance from a side, inner half negative; empty bins are NaN.
std::vector<double> profileOf(const RawFrame &frame, const PatchSide &side)
{
    const double length = std::hypot(side.to.x - side.from.x, side.to.y - side.from.y),
                 ux = (side.to.x - side.from.x) / length, uy = (side.to.y - side.from.y) / length;
    const auto bins = size_t(2 * side.reach / kBin);
    std::vector<double> sums(bins), counts(bins);
    const auto quad = around(side);
    const auto rows = measure::rowsOf(quad, frame.height);
    for (int y = rows.from; y < rows.to; ++y) {
        const double py = y + 0.5 - side.from.y;
        visitGreens(frame, y, measure::rowSpan(quad, y + 0.5, frame.width), [&](int x, double light) {
            const double px = x + 0.5 - side.from.x, distance = px * uy - py * ux;
            // rounding may place a sample on the rim beyond it
            const auto bin = size_t(std::max(0.0, (distance + side.reach) / kBin));
            if (bin < bins) {
                sums[bin] += light;
                counts[bin] += 1;
            }
        });
    }
    for (size_t i = 0; i < bins; ++i)
        sums[i] = counts[i] > 0 ? sums[i] / counts[i] : std::nan("");
    return sums;
}

/// An edge along the pixel grid leaves every other bin empty: those take the mean of their neighbours. Longer
/// gaps stay.
void fillSingleGaps(std::vector<double> &profile)
{
    for (size_t i = 1; i + 1 < profile.size(); ++i)
        if (std::isnan(profile[i]) && !std::isnan(profile[i - 1]) && !std::isnan(profile[i + 1]))
            profile[i] = (profile[i - 1] + profile[i + 1]) / 2;
    while (!profile.empty() && std::isnan(profile.back()))
        profile.pop_back();
    while (!profile.empty() && std::isnan(profile.front()))
        profile.erase(profile.begin());
}

/// Standard deviation of the step in a profile; nothing without a clean one.
std::optional<double> spreadOf(std::vector<double> profile)
{
    fillSingleGaps(profile);
    const size_t n = profile.size(), end = std::max<size_t>(2, n / 6);
    if (n < 12 || std::any_of(profile.begin(), profile.end(), [](double v) { return std::isnan(v); }))
        return std::nullopt;
    double low = 0, high = 0;
    for (size_t i = 0; i < end; ++i) {
        low += profile[i] / double(end);
        high += profile[n - 1 - i] / double(end);
    }
    if (std::abs(high - low) < 0.15 * (std::abs(high) + std::abs(low)) || std::abs(high - low) < 0.01)
        return std::nullopt;
    // Where noise is a tenth of the step, crossings are found in the noise.
    double scatter = 0;
    for (size_t i = 0; i + 1 < end; ++i)
        scatter += (std::pow(profile[i + 1] - profile[i], 2) +
                    std::pow(profile[n - 1 - i] - profile[n - 2 - i], 2)) /
                   double(4 * (end - 1));
    if (std::sqrt(scatter) > 0.08 * std::abs(high - low))
        return std::nullopt;
    const auto crossing = [&](double share) {
        for (size_t i = 1; i < n; ++i) {
            const double a = (profile[i - 1] - low) / (high - low), b = (profile[i] - low) / (high - low);
            if (b >= share)
                return (double(i) - 1 + (b > a ? std::clamp((share - a) / (b - a), 0.0, 1.0) : 1)) * kBin;
        }
        return double(n) * kBin;
    };
    return std::max(0.0, crossing(0.9) - crossing(0.1)) / 2.563;
}

} // namespace

std::optional<EdgeSpread> edgeSpread(const RawFrame &frame, const ChartDefinition &chart, const Homography &h)
{
    const double mmToPixel = pitchPixels(chart, h) / std::max(chart.pitchXMm, chart.pitchYMm);
    const double gap =
        std::min(chart.pitchXMm - chart.patchWidthMm, chart.pitchYMm - chart.patchHeightMm) * mmToPixel;
    if (gap < 5)
        return std::nullopt;
    const double reach = std::min(gap * 0.9, 24.0);
    struct Found
    {
        std::optional<double> across[2], along[2];
    };
    std::vector<Found> found(chart.patches.size());
    tbb::parallel_for(size_t(0), found.size(), [&](size_t i) {
        if (!chart.places.empty() && chart.places[i].isDisc)
            return; // has no straight side
        const int row = int(i) / chart.columns, column = int(i) % chart.columns;
        const auto o = patchOrigin(chart, row, column), size = patchSize(chart, row, column);
        const double w = size.x, ht = size.y;
        const auto side = [&](ChartPoint a, ChartPoint b) {
            return spreadOf(profileOf(frame, PatchSide{h.at(a), h.at(b), reach}.shortened()));
        };
        found[i].across[0] = side({o.x, o.y + 0.25 * ht}, {o.x, o.y + 0.75 * ht});
        found[i].across[1] = side({o.x + w, o.y + 0.25 * ht}, {o.x + w, o.y + 0.75 * ht});
        found[i].along[0] = side({o.x + 0.25 * w, o.y}, {o.x + 0.75 * w, o.y});
        found[i].along[1] = side({o.x + 0.25 * w, o.y + ht}, {o.x + 0.75 * w, o.y + ht});
    });
    std::vector<double> across, along;
    for (const auto &f : found)
        for (int k = 0; k < 2; ++k) {
            if (f.across[k])
                across.push_back(*f.across[k]);
            if (f.along[k])
                along.push_back(*f.along[k]);
        }
    if (across.size() < 4 || along.size() < 4)
        return std::nullopt;
    return EdgeSpread{medianOf(across), medianOf(along), int(across.size() + along.size())};
}

} // namespace wavechroma
