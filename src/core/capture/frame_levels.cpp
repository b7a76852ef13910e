#include "core/capture/frame_levels.h"

#include "core/base/statistics.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <mutex>
#include <tbb/parallel_for.h>

namespace wavechroma {

namespace {

constexpr int kCell = 16;
constexpr double kClippedShare = 0.02, kNoisyRatio = 0.5, kMostAffected = 0.95;

/// One sample of any frame: its channel and value, with 1 as saturation.
struct Sample
{
    size_t channel;
    float value;
};

template <class F> void eachSample(const RawFrame &frame, int x0, int y0, int x1, int y1, F &&take)
{
    if (frame.mosaic) {
        const auto &m = *frame.mosaic;
        for (int y = y0; y < y1; ++y) {
            const size_t row = m.cell(0, y);
            auto column =
                size_t(x0 % m.periodX); // counted on: a division a sample costs more than all the rest
            for (int x = x0; x < x1; ++x) {
                const size_t cell = row + column;
                const float black = m.black[cell], code = m.code(x, y);
                take(Sample{m.channel[cell], code >= m.white ? 1.0f : (code - black) / (m.white - black)});
                if (++column == size_t(m.periodX))
                    column = 0;
            }
        }
        return;
    }
    const auto &p = *frame.picture;
    for (int y = y0; y < y1; ++y)
        for (int x = x0; x < x1; ++x)
            for (size_t c = 0; c < 3; ++c) {
                const float v = p.value(size_t(y) * size_t(frame.width) + size_t(x), c);
                take(Sample{c, v >= p.saturation ? 1.0f : v});
            }
}

struct Sums
{
    std::array<double, 3> count{}, clipped{};
    std::array<std::array<double, FrameLevels::kBins>, 3> histogram{};
    std::vector<double> down, up; ///< stops, per affected cell
    int hopeless = 0, noisy = 0;

    void add(const Sums &o)
    {
        for (size_t c = 0; c < 3; ++c) {
            count[c] += o.count[c];
            clipped[c] += o.clipped[c];
            for (size_t b = 0; b < histogram[c].size(); ++b)
                histogram[c][b] += o.histogram[c][b];
        }
        down.insert(down.end(), o.down.begin(), o.down.end());
        up.insert(up.end(), o.up.begin(), o.up.end());
        hopeless += o.hopeless;
        noisy += o.noisy;
    }
};

int binOf(float value)
{
    constexpr float kThird = 1.2599210F, kTwoThirds = 1.5874011F; // of a stop
    if (value <= 0)
        return FrameLevels::kBins - 1;
    const uint32_t bits = std::bit_cast<uint32_t>(value);
    const int stops = int(bits >> 23) - 127;
    const float rest = std::bit_cast<float>((bits & 0x007FFFFFU) | 0x3F800000U); // 1…2
    return std::clamp(-3 * stops - (rest > 1) - (rest > kThird) - (rest > kTwoThirds), 0,
                      FrameLevels::kBins - 1);
}

/// Camera RGB of a grey, its largest channel 1.
std::array<double, 3> greyOf(const RawFrame &frame)
{
    Vector3 n = frame.fileColor.asShotNeutral.value_or(Vector3{1, 1, 1});
    const double most = std::max({n[0], n[1], n[2]});
    return most > 0 && std::min({n[0], n[1], n[2]}) > 0 ? std::array{n[0] / most, n[1] / most, n[2] / most}
                                                        : std::array{1.0, 1.0, 1.0};
}

/// Scatter of green samples from the differences of near ones (two pixels apart along the row): edges and
/// specks move only a few of them, so the median tells the noise alone. The median of |a − b| is 0.954
/// standard deviations of a normal scatter.
double greenScatter(const RawFrame &frame, int x0, int y0)
{
    std::array<float, size_t(kCell) * kCell> differences;
    size_t n = 0;
    for (int y = y0; y < y0 + kCell; ++y) {
        if (frame.mosaic) {
            std::array<Sample, size_t(kCell)> row{};
            size_t count = 0;
            eachSample(frame, x0, y, x0 + kCell, y + 1, [&](const Sample &s) { row[count++] = s; });
            for (size_t x = 0; x + 2 < row.size(); ++x)
                if (row[x].channel == 1 && row[x + 2].channel == 1)
                    differences[n++] = std::abs(row[x].value - row[x + 2].value);
            continue;
        }
        for (int x = x0; x + 2 < x0 + kCell; ++x) {
            const size_t at = size_t(y) * size_t(frame.width) + size_t(x);
            differences[n++] = std::abs(frame.picture->value(at, 1) - frame.picture->value(at + 2, 1));
        }
    }
    return double(medianIn(std::span(differences.data(), n))) / 0.954;
}

uint8_t judgeCell(const RawFrame &frame, int x0, int y0, const std::array<double, 3> &grey, Sums &sums)
{
    std::array<double, 3> count{}, sum{}, clipped{};
    eachSample(frame, x0, y0, x0 + kCell, y0 + kCell, [&](const Sample &s) {
        const double v = double(s.value);
        ++count[s.channel];
        sum[s.channel] += v;
        clipped[s.channel] += s.value >= 1;
        ++sums.histogram[s.channel][size_t(binOf(s.value))];
    });
    uint8_t bits = 0;
    double level = 0; // of a grey as light as this one, its largest channel
    for (size_t c = 0; c < 3; ++c) {
        sums.count[c] += count[c];
        sums.clipped[c] += clipped[c];
        if (count[c] == 0)
            continue;
        if (clipped[c] > kClippedShare * count[c])
            bits |= uint8_t(1 << c);
        else
            level = std::max(level, sum[c] / count[c] / grey[c]);
    }
    if (bits == (FrameLevels::RedClipped | FrameLevels::GreenClipped | FrameLevels::BlueClipped))
        ++sums.hopeless;
    else if (bits)
        sums.down.push_back(std::log2(std::max(1.0, level)));
    const double mean = sum[1] / std::max(1.0, count[1]);
    const double ratio = mean > 0 ? greenScatter(frame, x0, y0) / mean : 64;
    if (!bits && ratio > kNoisyRatio) {
        bits |= FrameLevels::Noisy;
        ++sums.noisy;
        sums.up.push_back(std::log2(std::min(64.0, ratio) / kNoisyRatio));
    }
    return bits;
}

double largestBut(std::vector<double> values, double share)
{
    const auto at = values.begin() + ptrdiff_t(share * double(values.size() - 1));
    std::nth_element(values.begin(), at, values.end());
    return *at;
}

} // namespace

FrameLevels frameLevels(const RawFrame &frame, const Progress &progress)
{
    FrameLevels out;
    out.block = kCell;
    out.width = frame.width / kCell;
    out.height = frame.height / kCell;
    out.cells.resize(size_t(out.width) * size_t(out.height));
    if (out.cells.empty())
        return out;
    const auto grey = greyOf(frame);
    Sums all;
    std::mutex mutex;
    tbb::parallel_for(0, out.height, [&](int row) {
        if (progress.stopped())
            return;
        Sums mine;
        for (int column = 0; column < out.width; ++column)
            out.cells[size_t(row) * size_t(out.width) + size_t(column)] =
                judgeCell(frame, column * kCell, row * kCell, grey, mine);
        const std::lock_guard lock(mutex);
        all.add(mine);
    });
    for (size_t c = 0; c < 3; ++c)
        if (all.count[c] > 0) {
            out.clipped[c] = all.clipped[c] / all.count[c];
            for (size_t b = 0; b < out.histogram[c].size(); ++b)
                out.histogram[c][b] = all.histogram[c][b] / all.count[c];
        }
    out.noisy = double(all.noisy) / double(out.cells.size());
    if (all.hopeless || !all.down.empty()) {
        out.atLeast = size_t(all.hopeless) > all.down.size();
        out.stopsDown = std::max(1 / 3.0, all.down.empty() ? 0 : largestBut(all.down, kMostAffected));
    }
    if (!all.up.empty())
        out.stopsUp = largestBut(all.up, kMostAffected);
    return out;
}

std::optional<FrameValue> valueAt(const RawFrame &frame, double x, double y, int reach)
{
    if (!(x >= 0 && y >= 0 && x < frame.width && y < frame.height))
        return std::nullopt;
    const int x0 = std::max(0, int(x) - reach), y0 = std::max(0, int(y) - reach);
    const int x1 = std::min(frame.width, int(x) + reach + 1), y1 = std::min(frame.height, int(y) + reach + 1);
    FrameValue out;
    std::array<double, 3> count{};
    eachSample(frame, x0, y0, x1, y1, [&](const Sample &s) {
        ++count[s.channel];
        out.value[s.channel] += double(s.value);
        out.clipped = out.clipped || s.value >= 1;
    });
    for (size_t c = 0; c < 3; ++c)
        out.value[c] /= std::max(1.0, count[c]);
    out.code = out.value;
    if (frame.mosaic) {
        out.code = {};
        for (int py = y0; py < y1; ++py)
            for (int px = x0; px < x1; ++px)
                out.code[frame.mosaic->channel[frame.mosaic->cell(px, py)]] += frame.mosaic->code(px, py);
        for (size_t c = 0; c < 3; ++c)
            out.code[c] /= std::max(1.0, count[c]);
    }
    return out;
}

} // namespace wavechroma
