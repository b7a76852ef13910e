#include "core/measure/sample.h"

#include "core/base/statistics.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <numbers>
#include <tbb/parallel_for.h>

namespace wavechroma {

namespace {

/// A share this small of saturated outliers is hot pixels or specks, not a burnt patch.
constexpr double kHotPixelShare = 0.005;

struct ChannelSamples
{
    std::vector<float> values;
    int clipped = 0, low = 0;
    float clipLevel = 1;

    void add(float v, float gain)
    {
        clipped += v >= clipLevel;
        low += v <= 0;
        values.push_back(v * gain);
    }
};

/// Which samples of a row lie inside a shape.
struct RowSpan
{
    int from = 0, to = 0; // `to` not included
};

/// Pixel x has its centre at x + 0.5.
RowSpan centresBetween(double low, double high, int width)
{
    return {std::max(0, int(std::ceil(low - 0.5))), std::min(width, int(std::floor(high - 0.5)) + 1)};
}

/// A shape to be sampled: its rows, its area, and which part of a row (at height y) lies inside.
struct Shape
{
    double top = 0, bottom = 0, area = 0;
    std::function<RowSpan(double y, int width)> span;
};

RowSpan rowSpan(const Quad &quad, double y, int width)
{
    double low = 1e30, high = -1e30;
    for (size_t i = 0; i < 4; ++i) {
        const auto &a = quad[i], &b = quad[(i + 1) % 4];
        if ((a.y <= y) == (b.y <= y))
            continue;
        const double x = a.x + (b.x - a.x) * (y - a.y) / (b.y - a.y);
        low = std::min(low, x);
        high = std::max(high, x);
    }
    if (low > high)
        return {};
    return centresBetween(low, high, width);
}

struct Spread
{
    double mean = 0, sd = 0;
    double low = 0, high = 0; // limits of what was kept
    int count = 0;
};

/// The limits come from the median and the median deviation of some 1 500 evenly spread values, which place
/// them to a twentieth of a deviation; mean and deviation come from every value inside.
Spread robustSpread(const std::vector<float> &values, double quantum)
{
    std::vector<float> work;
    const size_t step = std::max<size_t>(1, values.size() / 1500);
    for (size_t i = 0; i < values.size(); i += step)
        work.push_back(values[i]);
    const float median = medianIn<float>(work);
    for (auto &v : work)
        v = std::abs(v - median);
    // 1.4826 makes the deviation that of a normal distribution; half a code value is the least a file can
    // show.
    const double deviation = std::max(1.4826 * double(medianIn<float>(work)), 0.6 * quantum);
    Spread s;
    s.low = double(median) - 3.5 * deviation;
    s.high = double(median) + 3.5 * deviation;
    const float reach = float(3.5 * deviation);
    double sum = 0, squares = 0;
    for (const float v : values) {
        const float d = v - median;
        if (d >= -reach && d <= reach) {
            ++s.count;
            sum += double(d);
            squares += double(d) * double(d);
        }
    }
    if (s.count == 0) { // only when the values that chose the limits are all of one kind
        s.mean = double(median);
        s.count = 1;
        return s;
    }
    const double offset = sum / s.count;
    s.mean = double(median) + offset;
    s.sd = s.count > 1 ? std::sqrt(std::max(0.0, (squares - s.count * offset * offset) / (s.count - 1))) : 0;
    return s;
}

/// Calls visit(y, from, to) for each row of the shape; rows that thinning leaves out are passed over.
template <class Visit> void visitRows(const RawFrame &frame, const Shape &shape, int skip, Visit &&visit)
{
    const int period = smallestBlock(frame);
    const int y1 = int(std::min(double(frame.height), std::floor(shape.bottom) + 1));
    for (int y = int(std::max(0.0, std::floor(shape.top))); y < y1; ++y) {
        if ((y / period) % skip)
            continue;
        const auto span = shape.span(y + 0.5, frame.width);
        if (span.from < span.to)
            visit(y, span.from, span.to);
    }
}

double areaOf(const Quad &q)
{
    double twice = 0;
    for (size_t i = 0; i < 4; ++i)
        twice += q[i].x * q[(i + 1) % 4].y - q[(i + 1) % 4].x * q[i].y;
    return std::abs(twice) / 2;
}

Shape shapeOf(const Quad &window)
{
    Shape out{1e30, -1e30, areaOf(window),
              [&window](double y, int width) { return rowSpan(window, y, width); }};
    for (const auto &p : window) {
        out.top = std::min(out.top, p.y);
        out.bottom = std::max(out.bottom, p.y);
    }
    return out;
}

Shape discShape(const PixelPoint &centre, double radius)
{
    return {
        centre.y - radius, centre.y + radius, std::numbers::pi * radius * radius, [=](double y, int width) {
            const double half = std::sqrt(std::max(0.0, radius * radius - (y - centre.y) * (y - centre.y)));
            return half > 0 ? centresBetween(centre.x - half, centre.x + half, width) : RowSpan{};
        }};
}

/// One row, place by place of the pattern, so that channel and black level are looked up once each. Thinning
/// keeps whole periods: those whose number is a multiple of `skip`.
void collectRow(const Mosaic &m, const GainMap *flat, int period, int skip, int y, int from, int to,
                std::array<ChannelSamples, 3> &channels)
{
    const uint16_t *line = m.samples + y * m.rowStride;
    const int step = period * skip;
    for (int phase = 0; phase < period; ++phase) {
        const size_t cell = m.cell(phase, y);
        auto &channel = channels[m.channel[cell]];
        const size_t c = m.channel[cell];
        const float black = m.black[cell], scale = 1 / (m.white - black);
        const int first =
            (from - phase + step - 1) / step * step + phase; // from ≥ 0, so at worst one step too far left
        for (int x = first < from ? first + step : first; x < to; x += step)
            channel.add((float(line[x]) - black) * scale, flat ? flat->at(c, x + 0.5, y + 0.5) : 1);
    }
}

void collectRow(const LinearPicture &p, const GainMap *flat, int width, int skip, int y, int from, int to,
                std::array<ChannelSamples, 3> &channels)
{
    for (int x = (from + skip - 1) / skip * skip; x < to; x += skip)
        for (size_t c = 0; c < 3; ++c)
            channels[c].add(p.value(size_t(y) * size_t(width) + size_t(x), c),
                            flat ? flat->at(c, x + 0.5, y + 0.5) : 1);
}

PatchReading sampleShape(const RawFrame &frame, const Shape &shape, int mostPerChannel)
{
    std::array<ChannelSamples, 3> channels;
    for (auto &channel : channels) {
        channel.values.reserve(size_t(2 * mostPerChannel));
        channel.clipLevel = frame.mosaic ? 0.998F : frame.picture->saturation;
    }
    const double perChannel = shape.area / (frame.mosaic ? 4 : 1);
    const int skip = std::max(1, int(std::lround(std::sqrt(perChannel / mostPerChannel))));
    const int period = smallestBlock(frame);
    visitRows(frame, shape, skip, [&](int y, int from, int to) {
        if (frame.mosaic)
            collectRow(*frame.mosaic, frame.flat.get(), period, skip, y, from, to, channels);
        else
            collectRow(*frame.picture, frame.flat.get(), frame.width, skip, y, from, to, channels);
    });
    PatchReading out;
    const double quantum =
        frame.mosaic ? 1 / double(frame.mosaic->white - frame.mosaic->black[0]) : 1 / 65535.0;
    double *const means[] = {&out.mean.r, &out.mean.g, &out.mean.b};
    double *const deviations[] = {&out.sd.r, &out.sd.g, &out.sd.b};
    int used = 0;
    for (size_t c = 0; c < 3; ++c) {
        const auto &channel = channels[c];
        if (channel.values.empty())
            return PatchReading{};
        const auto spread = robustSpread(channel.values, quantum);
        *means[c] = spread.mean;
        *deviations[c] = spread.sd;
        used += spread.count;
        const double total = double(channel.values.size());
        const bool specksOnly = spread.high < double(channel.clipLevel) &&
                                channel.clipped < std::max(3.0, kHotPixelShare * total);
        if (!specksOnly)
            out.clipped = std::max(out.clipped, channel.clipped / total);
        out.low = std::max(out.low, channel.low / total);
    }
    out.count = used;
    return out;
}

} // namespace

PatchReading sampleWindow(const RawFrame &frame, const Quad &window, int mostPerChannel)
{
    return sampleShape(frame, shapeOf(window), mostPerChannel);
}

std::optional<PatchReading> sampleDisc(const RawFrame &frame, const PixelPoint &centre, double radius,
                                       int mostPerChannel)
{
    const bool isInside = radius > 0 && centre.x - radius >= 0 && centre.y - radius >= 0 &&
                          centre.x + radius <= frame.width && centre.y + radius <= frame.height;
    if (!isInside)
        return std::nullopt;
    auto out = sampleShape(frame, discShape(centre, radius), mostPerChannel);
    return out.count > 0 ? std::optional(std::move(out)) : std::nullopt;
}

std::vector<PatchReading> samplePatches(const RawFrame &frame, const ChartDefinition &chart,
                                        const Homography &homography, const SampleOptions &options)
{
    std::vector<PatchReading> patches(chart.patches.size());
    const double share = std::clamp(options.windowShare, 0.1, 0.9);
    tbb::parallel_for(size_t(0), patches.size(), [&](size_t i) {
        const int row = int(i) / chart.columns, column = int(i) % chart.columns;
        patches[i] =
            sampleWindow(frame, patchWindow(chart, homography, row, column, share), options.mostPerChannel);
        patches[i].id = chart.patches[i].id;
    });
    return patches;
}

} // namespace wavechroma
