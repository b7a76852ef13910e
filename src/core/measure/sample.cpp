#include "core/measure/sample.h"

#include "core/base/statistics.h"
#include "core/base/wide.h"
#include "core/measure/row_span.h"
#include "core/raw/overview.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <numbers>
#include <span>
#include <tbb/parallel_for.h>

namespace wavechroma {

using namespace measure;

namespace {

/// A share this small of saturated outliers is hot pixels or specks, not a clipped patch.
constexpr double kHotPixelShare = 0.005;

/// Light of `count` codes, `step` apart.
WAVECHROMA_WIDE void lightOf(const uint16_t *__restrict codes, int step, int count, float black, float scale,
                             float *__restrict light)
{
    if (step == 2) // the common pattern, whole: in vector registers
        for (int i = 0; i < count; ++i)
            light[i] = (float(codes[2 * i]) - black) * scale;
    else
        for (int i = 0; i < count; ++i)
            light[i] = (float(codes[i * step]) - black) * scale;
}

struct Ends
{
    int clipped = 0, low = 0;
};

WAVECHROMA_WIDE void countEnds(std::span<const float> light, float clipLevel, Ends &ends)
{
    int clipped = 0, low = 0;
    for (const float v : light) {
        clipped += v >= clipLevel ? 1 : 0;
        low += v <= 0 ? 1 : 0;
    }
    ends.clipped += clipped;
    ends.low += low;
}

struct ChannelSamples
{
    std::vector<float> values;
    Ends ends;
    float clipLevel = 1;

    /// Room for more.
    std::span<float> grown(int count)
    {
        values.resize(values.size() + size_t(count));
        return {values.data() + values.size() - count, size_t(count)};
    }
};

/// A shape to be sampled: its rows, its area, and which part of a row (at height y) lies inside.
struct Shape
{
    double top = 0, bottom = 0, area = 0;
    std::function<RowSpan(double y, int width)> span;
};

struct Spread
{
    double mean = 0, sd = 0;
    double low = 0, high = 0; // limits of what was kept
    int count = 0;
};

struct Moments
{
    double sum = 0, squares = 0;
    int count = 0;
};

/// Of the distances from `middle` that are no larger than `reach`. Eight sums side by side fill registers of
/// any size and are added up in the same order for all.
WAVECHROMA_WIDE void momentsWithin(std::span<const float> values, float middle, float reach, Moments &out)
{
    constexpr size_t kLanes = 8;
    double sums[kLanes]{}, squares[kLanes]{};
    int counts[kLanes]{};
    const auto add = [&](size_t i, size_t lane) {
        const float d = values[i] - middle;
        const bool isInside = d >= -reach && d <= reach;
        const double kept = isInside ? double(d) : 0;
        sums[lane] += kept;
        squares[lane] += kept * kept;
        counts[lane] += isInside ? 1 : 0;
    };
    size_t i = 0;
    for (; i + kLanes <= values.size(); i += kLanes)
        for (size_t lane = 0; lane < kLanes; ++lane)
            add(i + lane, lane);
    for (; i < values.size(); ++i)
        add(i, 0);
    for (size_t lane = 0; lane < kLanes; ++lane) {
        out.sum += sums[lane];
        out.squares += squares[lane];
        out.count += counts[lane];
    }
}

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
    Moments moments;
    momentsWithin(values, median, float(3.5 * deviation), moments);
    const auto [sum, squares, count] = moments;
    s.count = count;
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
              [&window](double y, int width) { return measure::rowSpan(window, y, width); }};
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
        const size_t cell = m.cell(phase, y), c = m.channel[cell];
        auto &channel = channels[c];
        int first =
            (from - phase + step - 1) / step * step + phase; // from ≥ 0, so at worst one step too far left
        first = first < from ? first + step : first;
        if (first >= to)
            continue;
        const auto light = channel.grown((to - first + step - 1) / step);
        const float black = m.black[cell];
        lightOf(line + first, step, int(light.size()), black, 1 / (m.white - black), light.data());
        countEnds(light, channel.clipLevel, channel.ends);
        if (flat)
            for (size_t i = 0; i < light.size(); ++i)
                light[i] *= flat->at(c, first + int(i) * step + 0.5, y + 0.5);
    }
}

void collectRow(const LinearPicture &p, const GainMap *flat, int width, int skip, int y, int from, int to,
                std::array<ChannelSamples, 3> &channels)
{
    const int first = (from + skip - 1) / skip * skip;
    if (first >= to)
        return;
    for (size_t c = 0; c < 3; ++c) {
        const auto light = channels[c].grown((to - first + skip - 1) / skip);
        const auto xOf = [&](size_t i) { return first + int(i) * skip; };
        for (size_t i = 0; i < light.size(); ++i)
            light[i] = p.value(size_t(y) * size_t(width) + size_t(xOf(i)), c);
        countEnds(light, channels[c].clipLevel, channels[c].ends);
        if (flat)
            for (size_t i = 0; i < light.size(); ++i)
                light[i] *= flat->at(c, xOf(i) + 0.5, y + 0.5);
    }
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
            collectRow(*frame.mosaic, frame.evening(), period, skip, y, from, to, channels);
        else
            collectRow(*frame.picture, frame.evening(), frame.width, skip, y, from, to, channels);
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
                                channel.ends.clipped < std::max(3.0, kHotPixelShare * total);
        if (!specksOnly)
            out.clipped = std::max(out.clipped, channel.ends.clipped / total);
        out.low = std::max(out.low, channel.ends.low / total);
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
