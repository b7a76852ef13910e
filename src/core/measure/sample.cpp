#include "core/measure/sample.h"

#include <algorithm>
#include <cmath>
#include <tbb/parallel_for.h>

namespace wavechroma {

namespace {

/// A share this small of saturated outliers is hot pixels or specks, not a burnt patch.
constexpr double kHotPixelShare = 0.005;

struct ChannelSamples {
    std::vector<float> values;
    int clipped = 0, low = 0;
    float clipLevel = 1;
};

/// Which samples of a row lie inside a convex quadrilateral.
struct RowSpan {
    int from = 0, to = 0; // `to` not included
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
    // pixel x has its centre at x + 0.5
    return {std::max(0, int(std::ceil(low - 0.5))), std::min(width, int(std::floor(high - 0.5)) + 1)};
}

struct Spread {
    double mean = 0, sd = 0;
    double low = 0, high = 0; // limits of what was kept
    int count = 0;
};

float medianOf(std::vector<float> &values)
{
    const auto middle = values.begin() + ptrdiff_t(values.size() / 2);
    std::nth_element(values.begin(), middle, values.end());
    return *middle;
}

Spread robustSpread(const std::vector<float> &values, double quantum)
{
    std::vector<float> work = values;
    const float median = medianOf(work);
    for (auto &v : work)
        v = std::abs(v - median);
    // 1.4826 makes the deviation that of a normal distribution; half a code value is the least a file can show.
    const double deviation = std::max(1.4826 * double(medianOf(work)), 0.6 * quantum);
    Spread s;
    s.low = double(median) - 3.5 * deviation;
    s.high = double(median) + 3.5 * deviation;
    double sum = 0, squares = 0;
    for (const float v : values)
        if (double(v) >= s.low && double(v) <= s.high) {
            ++s.count;
            sum += double(v) - double(median);
            squares += (double(v) - double(median)) * (double(v) - double(median));
        }
    const double offset = sum / s.count;
    s.mean = double(median) + offset;
    s.sd = s.count > 1 ? std::sqrt(std::max(0.0, (squares - s.count * offset * offset) / (s.count - 1))) : 0;
    return s;
}

template <class Visit> void visitWindow(const RawFrame &frame, const Quad &window, int skip, Visit &&visit)
{
    double top = 1e30, bottom = -1e30;
    for (const auto &p : window) {
        top = std::min(top, p.y);
        bottom = std::max(bottom, p.y);
    }
    const int period = smallestBlock(frame);
    const int y1 = int(std::min(double(frame.height), std::floor(bottom) + 1));
    for (int y = int(std::max(0.0, std::floor(top))); y < y1; ++y) {
        if (skip > 1 && (y / period) % skip)
            continue;
        const auto span = rowSpan(window, y + 0.5, frame.width);
        for (int x = span.from; x < span.to; ++x)
            if (skip == 1 || (x / period) % skip == 0)
                visit(x, y);
    }
}

double areaOf(const Quad &q)
{
    double twice = 0;
    for (size_t i = 0; i < 4; ++i)
        twice += q[i].x * q[(i + 1) % 4].y - q[(i + 1) % 4].x * q[i].y;
    return std::abs(twice) / 2;
}

void collect(const Mosaic &m, int x, int y, std::array<ChannelSamples, 3> &channels)
{
    auto &channel = channels[m.channel[m.cell(x, y)]];
    const float v = m.value(x, y);
    channel.values.push_back(v);
    channel.clipped += v >= channel.clipLevel;
    channel.low += v <= 0;
}

void collect(const LinearPicture &p, size_t at, std::array<ChannelSamples, 3> &channels)
{
    for (size_t c = 0; c < 3; ++c) {
        const float v = p.rgb[at * 3 + c];
        channels[c].values.push_back(v);
        channels[c].clipped += v >= channels[c].clipLevel;
        channels[c].low += v <= 0;
    }
}

} // namespace

PatchReading sampleWindow(const RawFrame &frame, const Quad &window, int mostPerChannel)
{
    std::array<ChannelSamples, 3> channels;
    for (auto &channel : channels)
        channel.clipLevel = frame.mosaic ? 0.998F : frame.picture->saturation;
    const double perChannel = areaOf(window) / (frame.mosaic ? 4 : 1);
    const int skip = std::max(1, int(std::lround(std::sqrt(perChannel / mostPerChannel))));
    visitWindow(frame, window, skip, [&](int x, int y) {
        if (frame.mosaic)
            collect(*frame.mosaic, x, y, channels);
        else
            collect(*frame.picture, size_t(y) * size_t(frame.width) + size_t(x), channels);
    });
    PatchReading out;
    const double quantum = frame.mosaic ? 1 / double(frame.mosaic->white - frame.mosaic->black[0]) : 1 / 65535.0;
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
        const bool specksOnly = spread.high < double(channel.clipLevel) && channel.clipped < std::max(3.0, kHotPixelShare * total);
        if (!specksOnly)
            out.clipped = std::max(out.clipped, channel.clipped / total);
        out.low = std::max(out.low, channel.low / total);
    }
    out.count = used;
    return out;
}

std::vector<PatchReading> samplePatches(const RawFrame &frame, const ChartDefinition &chart,
                                        const Homography &homography, const SampleOptions &options)
{
    std::vector<PatchReading> patches(chart.patches.size());
    const double share = std::clamp(options.windowShare, 0.1, 0.9);
    tbb::parallel_for(size_t(0), patches.size(), [&](size_t i) {
        const int row = int(i) / chart.columns, column = int(i) % chart.columns;
        patches[i] = sampleWindow(frame, patchWindow(chart, homography, row, column, share), options.mostPerChannel);
        patches[i].id = chart.patches[i].id;
    });
    return patches;
}

} // namespace wavechroma
