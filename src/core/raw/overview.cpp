#include "core/raw/overview.h"
#include "core/base/wide.h"
#include "core/raw/lone_samples.h"

#include <algorithm>
#include <array>
#include <tbb/parallel_for.h>

namespace wavechroma {

namespace {

WAVECHROMA_WIDE void addLine(const uint16_t *__restrict line, uint32_t *__restrict sums,
                             uint16_t *__restrict tops, int n)
{
    for (int x = 0; x < n; ++x)
        sums[x] += line[x];
    for (int x = 0; x < n; ++x)
        tops[x] = line[x] > tops[x] ? line[x] : tops[x];
}

/// Columns of a row of blocks behind a filter of 2 × 2: sums of even and of odd lines, the largest of all.
struct Columns
{
    std::vector<uint32_t> sums[2];
    std::vector<uint16_t> tops;
};

/// `channels`: of the four cells.
template <int kBlock>
void addColumns(const Columns &columns, const std::array<uint8_t, 4> &channels, int anyBlock,
                std::vector<uint32_t> &sums, std::vector<uint16_t> &tops)
{
    const auto block = size_t(kBlock ? kBlock : anyBlock);
    for (size_t b = 0; b < tops.size(); ++b) {
        uint16_t top = 0;
        for (size_t parity = 0; parity < 2; ++parity) {
            const uint32_t *from = columns.sums[parity].data() + b * block;
            uint32_t even = 0, odd = 0;
            for (size_t x = 0; x < block; x += 2) {
                even += from[x];
                odd += from[x + 1];
            }
            sums[3 * b + channels[2 * parity]] += even;
            sums[3 * b + channels[2 * parity + 1]] += odd;
        }
        for (size_t x = 0; x < block; ++x)
            top = std::max(top, columns.tops[b * block + x]);
        tops[b] = top;
    }
}

/// Common blocks have their size as a constant, so that their loops are laid out.
auto *addColumnsOf(int block)
{
    switch (block) {
    case 2:
        return &addColumns<2>;
    case 4:
        return &addColumns<4>;
    case 8:
        return &addColumns<8>;
    default:
        return &addColumns<0>;
    }
}

void addAny(const uint16_t *line, const std::vector<uint8_t> &channels, std::vector<uint32_t> &sums,
            std::vector<uint16_t> &tops)
{
    const size_t block = channels.size();
    for (size_t b = 0; b < tops.size(); ++b)
        for (size_t x = 0; x < block; ++x) {
            const uint16_t code = line[b * block + x];
            sums[3 * b + channels[x]] += code;
            tops[b] = std::max(tops[b], code);
        }
}

/// Sums in whole numbers: 16 × 16 samples of 16 bits stay far below 2³². `mended`: where rows are taken from.
void rowOfBlocks(const Mosaic &m, const PixelArea &area, int row, Overview &out, LoneSamples *mended)
{
    const int block = out.block;
    const float clipCode = m.white * 0.998F;
    std::vector<uint32_t> counts(3);
    Vector3 black{};
    for (int y = 0; y < block; ++y)
        for (int x = 0; x < block; ++x) {
            const size_t cell = m.cell(area.x + x, area.y + y);
            ++counts[m.channel[cell]];
            black[m.channel[cell]] += double(m.black[cell]);
        }
    for (size_t c = 0; c < 3; ++c)
        black[c] /= counts[c];
    std::vector<uint32_t> sums(size_t(out.width) * 3);
    std::vector<uint16_t> tops(size_t(out.width));
    const auto lineAt = [&](int dy) {
        const int y = area.y + row * block + dy;
        return mended ? mended->row(y, area.x, area.x + block * out.width)
                      : m.samples + y * m.rowStride + area.x;
    };
    const auto channelAt = [&](int x, int y) { return uint8_t(m.channel[m.cell(area.x + x, area.y + y)]); };
    if (m.periodX == 2 && m.periodY == 2) {
        const size_t width = size_t(block) * size_t(out.width);
        Columns columns;
        columns.tops.resize(width);
        for (auto &lines : columns.sums)
            lines.resize(width);
        for (int dy = 0; dy < block; ++dy)
            addLine(lineAt(dy), columns.sums[dy % 2].data(), columns.tops.data(), int(width));
        addColumnsOf(block)(columns, {channelAt(0, 0), channelAt(1, 0), channelAt(0, 1), channelAt(1, 1)},
                            block, sums, tops);
    } else
        for (int dy = 0; dy < block; ++dy) {
            std::vector<uint8_t> channels;
            for (int x = 0; x < block; ++x)
                channels.push_back(channelAt(x, row * block + dy));
            addAny(lineAt(dy), channels, sums, tops);
        }
    for (size_t b = 0; b < tops.size(); ++b)
        if (float(tops[b]) >= clipCode)
            out.clipped[size_t(row) * tops.size() + b] = 1;
    float *target = out.rgb.data() + size_t(row) * size_t(out.width) * 3;
    float scale[3], offset[3];
    for (size_t c = 0; c < 3; ++c) {
        scale[c] = float(1 / (counts[c] * (double(m.white) - black[c])));
        offset[c] = float(black[c] / (double(m.white) - black[c]));
    }
    for (size_t i = 0; i < sums.size(); i += 3)
        for (size_t c = 0; c < 3; ++c)
            target[i + c] = float(sums[i + c]) * scale[c] - offset[c];
}

void rowOfBlocks(const RawFrame &frame, const PixelArea &area, int row, Overview &out)
{
    const int block = out.block;
    const auto &picture = *frame.picture;
    for (int b = 0; b < out.width; ++b)
        for (size_t c = 0; c < 3; ++c) {
            double sum = 0;
            float top = 0;
            for (int dy = 0; dy < block; ++dy)
                for (int dx = 0; dx < block; ++dx) {
                    const size_t x = size_t(area.x + b * block + dx), y = size_t(area.y + row * block + dy);
                    const float v = picture.value(y * size_t(frame.width) + x, c);
                    sum += double(v);
                    top = std::max(top, v);
                }
            const size_t at = size_t(row) * size_t(out.width) + size_t(b);
            out.rgb[at * 3 + c] = float(sum / (block * block));
            if (top >= picture.saturation)
                out.clipped[at] = 1;
        }
}

} // namespace

int smallestBlock(const RawFrame &frame)
{
    return frame.mosaic ? std::max(frame.mosaic->periodX, frame.mosaic->periodY) : 1;
}

static Overview overviewOf(const RawFrame &frame, int block, PixelArea &area, bool isMended)
{
    const int period = smallestBlock(frame);
    Overview out;
    out.block = std::max(1, (block + period - 1) / period) * period;
    area.x = std::clamp(area.x, 0, frame.width) / period * period;
    area.y = std::clamp(area.y, 0, frame.height) / period * period;
    area.width = std::min(area.width, frame.width - area.x);
    area.height = std::min(area.height, frame.height - area.y);
    out.width = std::max(0, area.width) / out.block;
    out.height = std::max(0, area.height) / out.block;
    out.rgb.resize(size_t(out.width) * size_t(out.height) * 3);
    out.clipped.resize(size_t(out.width) * size_t(out.height));
    tbb::parallel_for(0, out.height, [&](int row) {
        if (!frame.mosaic)
            return rowOfBlocks(frame, area, row, out);
        std::optional<LoneSamples> mended;
        if (isMended)
            mended.emplace(*frame.mosaic, frame.width, frame.height);
        rowOfBlocks(*frame.mosaic, area, row, out, mended ? &*mended : nullptr);
    });
    return out;
}

Overview overviewOf(const RawFrame &frame, int block, PixelArea &area)
{
    return overviewOf(frame, block, area, false);
}

Overview overviewOf(const RawFrame &frame, int block)
{
    PixelArea all{0, 0, frame.width, frame.height};
    return overviewOf(frame, block, all);
}

Overview seenOverviewOf(const RawFrame &frame, int block)
{
    constexpr int kDrowned = 16; // in a block of that many samples squared a defect is no more than noise
    PixelArea all{0, 0, frame.width, frame.height};
    return overviewOf(frame, block, all, block <= kDrowned && hasBayerMosaic(frame));
}

} // namespace wavechroma
