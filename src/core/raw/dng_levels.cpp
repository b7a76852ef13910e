#include "core/raw/dng_levels.h"

#include "core/raw/dng_tags.h"

#include <algorithm>
#include <cmath>
#include <iterator>
#include <numeric>
#include <tbb/parallel_for.h>

namespace wavechroma::raw {

namespace {

constexpr int kMostPeriod = 16;
constexpr float kNewBlack = 2048, kNewWhite = 65535;

bool hasPlainLevels(const DngLayout &l)
{
    const auto changes = [](const std::vector<DngOpcode> &steps) {
        return std::ranges::any_of(steps, [](const DngOpcode &s) { return !s.isGain(); });
    };
    return !l.isFloat && l.bits <= 16 && l.linearization.empty() && l.blackColumn.empty() &&
           l.blackByRow.empty() && !changes(l.ofCodes) && !changes(l.ofLight) && !changes(l.ofPicture);
}

/// Light of one sample: 0 is black, 1 is saturation (DNG specification, chapter 5, "Mapping raw values to
/// linear reference values"), but for gains.
class Light
{
public:
    Light(const DngLayout &layout, const OwnSamples &samples) : m_layout(layout), m_samples(samples) {}

    /// `x`, `y` in the visible area.
    [[nodiscard]] double at(int x, int y, int sample) const
    {
        const auto &l = m_layout;
        const int rawX = x + l.left, rawY = y + l.top;
        double code = m_samples.at(size_t(rawX), size_t(rawY), size_t(sample), size_t(l.samples));
        for (const auto &step : l.ofCodes)
            if (step.covers(rawX, rawY, sample))
                code = appliedTo(step, code, rawX, rawY, l.isFloat ? 1 : 65535);
        if (!l.linearization.empty())
            code = l.linearization[std::min(size_t(std::max(0.0, std::round(code))),
                                            l.linearization.size() - 1)];
        const double black = l.blackAt(x, y, sample), white = l.white[size_t(sample)];
        double light = (code - black) / (white - black);
        for (const auto *steps : {&l.ofLight, &l.ofPicture})
            for (const auto &step : *steps)
                if (!step.isGain() && step.covers(x, y, sample))
                    light = appliedTo(step, light, x, y, 1);
        return light;
    }

private:
    const DngLayout &m_layout;
    const OwnSamples &m_samples;
};

Samples storedAnew(const DngLayout &l, const OwnSamples &samples)
{
    const Light light(l, samples);
    const auto perPixel = size_t(l.samples);
    Samples out(size_t(l.visibleWidth) * size_t(l.visibleHeight) * perPixel);
    tbb::parallel_for(0, l.visibleHeight, [&](int y) {
        auto *to = out.data() + size_t(y) * size_t(l.visibleWidth) * perPixel;
        for (int x = 0; x < l.visibleWidth; ++x)
            for (int s = 0; s < l.samples; ++s) {
                const double code = double(kNewBlack) + light.at(x, y, s) * double(kNewWhite - kNewBlack);
                *to++ = uint16_t(std::lround(std::clamp(code, 0.0, double(kNewWhite))));
            }
    });
    return out;
}

/// Table of codes to light.
std::vector<float> lightOfCodes(float black, float white)
{
    std::vector<float> out(65536);
    for (size_t code = 0; code < out.size(); ++code)
        out[code] = (float(code) - black) / (white - black);
    return out;
}

/// A gain of the file, and which sample of a pixel a channel is where it acts.
struct Gain
{
    const DngOpcode *step = nullptr;
    bool isOfPicture = false; ///< it acts on three channels, after the demosaic or where there is no filter
    [[nodiscard]] int sampleOf(int channel) const { return isOfPicture ? channel : 0; }
};

/// Grid points that hold every point of every map: exact for one map, and for several that share theirs.
int gridFor(const std::vector<Gain> &gains, bool isAcross)
{
    constexpr int kLeastCells = 64, kMostCells = 320;
    int cells = 1;
    for (const auto &gain : gains) {
        const auto &g = *gain.step;
        const auto points =
            g.kind == DngOpcode::Kind::GainMap ? (isAcross ? g.pointsAcross : g.pointsDown) : 1;
        if (points == 1)
            continue;
        const double spacing = isAcross ? g.spacingAcross : g.spacingDown,
                     origin = isAcross ? g.originAcross : g.originDown;
        if (std::abs(origin) > 1e-6 || std::abs(spacing * (points - 1) - 1) > 1e-6 || points > kMostCells)
            return kMostCells + 1;
        cells = std::lcm(cells, int(points) - 1);
        if (cells > kMostCells)
            return kMostCells + 1;
    }
    return cells * ((kLeastCells + cells - 1) / cells) + 1;
}

bool coversAll(const DngOpcode &step, const DngLayout &l)
{
    return step.top < step.rowPitch && step.left < step.columnPitch && step.rowPitch <= 16 &&
           step.columnPitch <= 16 && uint64_t(step.bottom) + step.rowPitch > uint64_t(l.visibleHeight) &&
           uint64_t(step.right) + step.columnPitch > uint64_t(l.visibleWidth);
}

using Gains = std::vector<Gain>;

/// Which gains act on a channel: a list for each photosite of the channel in a period of filter and maps.
std::vector<Gains> gainsOfChannel(const DngLayout &l, const Gains &gains, int channel)
{
    const bool isFiltered = l.filterRows > 0;
    int periodX = isFiltered ? l.filterColumns : 1, periodY = isFiltered ? l.filterRows : 1;
    for (const auto &g : gains) {
        periodX = std::lcm(periodX, int(g.step->columnPitch));
        periodY = std::lcm(periodY, int(g.step->rowPitch));
    }
    std::vector<Gains> out;
    for (int y = 0; y < periodY; ++y)
        for (int x = 0; x < periodX; ++x) {
            if (isFiltered && l.channelAt(x, y) != channel)
                continue;
            Gains acting;
            std::ranges::copy_if(gains, std::back_inserter(acting),
                                 [&](const Gain &g) { return g.step->covers(x, y, g.sampleOf(channel)); });
            out.push_back(std::move(acting));
        }
    return out;
}

/// The mean over the channel's photosites of the product of their gains, at a relative place.
double meanGain(const std::vector<Gains> &photosites, int channel, double u, double v, const DngLayout &l)
{
    double sum = 0;
    for (const auto &acting : photosites) {
        double product = 1;
        for (const auto &g : acting)
            product *= gainAt(*g.step, u, v, g.sampleOf(channel), l.visibleWidth, l.visibleHeight);
        sum += product;
    }
    return sum / double(photosites.size());
}

} // namespace

Mosaic mosaicOf(const DngLayout &l, const std::shared_ptr<const OwnSamples> &samples)
{
    Mosaic out;
    out.periodX = std::lcm(l.filterColumns, l.blackColumns);
    out.periodY = std::lcm(l.filterRows, l.blackRows);
    const bool isPlain = hasPlainLevels(l) && out.periodX <= kMostPeriod && out.periodY <= kMostPeriod;
    if (isPlain) {
        out.memory = samples->unpacked;
        out.rowStride = samples->rowStride;
        out.samples = samples->samples + ptrdiff_t(l.top) * out.rowStride + l.left;
        out.white = float(l.white[0]);
    } else {
        out.periodX = l.filterColumns;
        out.periodY = l.filterRows;
        out.memory = storedAnew(l, *samples);
        out.rowStride = l.visibleWidth;
        out.samples = out.memory.data();
        out.white = kNewWhite;
    }
    out.isOfLibrary = isPlain && l.filterRows == 6 && l.filterColumns == 6 && l.left == 0 && l.top == 0 &&
                      (l.compression == 7 || l.pieces.size() == 1) && l.compression != 8;
    for (int y = 0; y < out.periodY; ++y)
        for (int x = 0; x < out.periodX; ++x) {
            out.channel.push_back(l.channelAt(x, y));
            out.black.push_back(isPlain ? float(l.blackAt(x, y, 0)) : kNewBlack);
        }
    return out;
}

LinearPicture pictureOf(const DngLayout &l, const OwnSamples &samples)
{
    LinearPicture out;
    out.saturation = 0.998F;
    const bool isPlain = hasPlainLevels(l) && l.blackRows == 1 && l.blackColumns == 1;
    for (size_t c = 0; c < 3; ++c)
        out.light[c] =
            isPlain ? lightOfCodes(float(l.black[c]), float(l.white[c])) : lightOfCodes(kNewBlack, kNewWhite);
    if (!isPlain) {
        out.codes = storedAnew(l, samples);
        return out;
    }
    const size_t rowSize = size_t(l.visibleWidth) * 3;
    out.codes = Samples(rowSize * size_t(l.visibleHeight));
    for (int y = 0; y < l.visibleHeight; ++y)
        std::copy_n(samples.samples + ptrdiff_t(y + l.top) * samples.rowStride + ptrdiff_t(l.left) * 3,
                    rowSize, out.codes.data() + size_t(y) * rowSize);
    return out;
}

Result<std::shared_ptr<const GainMap>> gainOf(const DngLayout &l, const std::string &name)
{
    Gains gains;
    for (const auto &[id, steps] :
         {std::pair{tag::OpcodeList2, &l.ofLight}, {tag::OpcodeList3, &l.ofPicture}})
        for (const auto &step : *steps) {
            if (!step.isGain())
                continue;
            if (!coversAll(step, l))
                return unusable("{file}: tag {tag} changes only a part of the picture",
                                {{"file", name}, {"tag", std::string(dngTag(id)->name)}});
            gains.push_back({&step, steps == &l.ofPicture || l.filterRows == 0});
        }
    if (gains.empty())
        return std::shared_ptr<const GainMap>();
    auto out = std::make_shared<GainMap>();
    out->width = l.visibleWidth;
    out->height = l.visibleHeight;
    out->columns = gridFor(gains, true);
    out->rows = gridFor(gains, false);
    for (int c = 0; c < 3; ++c) {
        const auto photosites = gainsOfChannel(l, gains, c);
        for (int row = 0; row < out->rows; ++row)
            for (int column = 0; column < out->columns; ++column)
                out->gain[size_t(c)].push_back(float(meanGain(
                    photosites, c, double(column) / (out->columns - 1), double(row) / (out->rows - 1), l)));
    }
    return std::shared_ptr<const GainMap>(std::move(out));
}

} // namespace wavechroma::raw
