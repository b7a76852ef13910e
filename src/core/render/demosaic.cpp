#include "core/render/demosaic.h"

#include "core/base/wide.h"

#include <algorithm>
#include <cmath>

namespace wavechroma {

namespace {

constexpr float kOffset = 0.008F; ///< added to light before its root; noise below black stays noise
/// Five taps over differences: 0.6, 0.28, −0.08.
constexpr float kCentre = 0.6F, kNext = 0.28F, kAfter = 0.5F - kCentre / 2 - kNext;
constexpr float kLeastChange = 1e-3F; ///< below it no direction is better than the other

WAVECHROMA_WIDE void toRoots(float *row, int n)
{
    for (int x = 0; x < n; ++x) {
        const float v = row[x] + kOffset;
        row[x] = std::sqrt(v > 0 ? v : 0.0F);
    }
}

/// `one` and `two`: how far the neighbours of one and two pixels away lie. `colored` is 1 where the sample is
/// red or blue and 0 where it is green.
WAVECHROMA_WIDE void differences(const float *__restrict row, const float *__restrict colored, int one,
                                 int two, float *__restrict out, int n)
{
    for (int x = 0; x < n; ++x) {
        const float between = (row[x - one] + row[x + one]) * 0.5F,
                    curve = (2 * row[x] - row[x - two] - row[x + two]) * 0.25F;
        const float sign = 2 * colored[x] - 1;
        out[x] = sign * (between + curve - row[x]);
    }
}

/// How much the differences change within cells of 2 × 2, over two rows.
WAVECHROMA_WIDE void changes(const float *__restrict upper, const float *__restrict lower, int one,
                             float *__restrict out, int cells)
{
    for (int q = 0; q < cells; ++q) {
        const int x = 2 * q;
        out[q] =
            std::abs(upper[x - one] - upper[x + one]) + std::abs(upper[x + 1 - one] - upper[x + 1 + one]) +
            std::abs(lower[x - one] - lower[x + one]) + std::abs(lower[x + 1 - one] - lower[x + 1 + one]);
    }
}

/// Shares of the direction across for one row of cells, from the changes of three.
WAVECHROMA_WIDE void shares(const float *__restrict across, const float *__restrict down, int stride,
                            float *__restrict out, int cells)
{
    for (int q = 0; q < cells; ++q) {
        float a = 0, d = 0;
        for (int k = -1; k <= 1; ++k) {
            const int at = q + k;
            a += across[at - stride] + across[at] + across[at + stride];
            d += down[at - stride] + down[at] + down[at + stride];
        }
        a = a * (1.0F / 36) + kLeastChange;
        d = d * (1.0F / 36) + kLeastChange;
        const float a3 = a * a * a, d3 = d * d * d;
        const float share = d3 / (a3 + d3);
        out[2 * q] = share;
        out[2 * q + 1] = share;
    }
}

/// Green minus the sampled colour, both directions by their shares; 0 where green was sampled.
WAVECHROMA_WIDE void ownDifferences(const float *__restrict across, const float *__restrict down, int stride,
                                    const float *__restrict share, const float *__restrict colored,
                                    float *__restrict light, float *__restrict out, int n)
{
    for (int x = 0; x < n; ++x) {
        const float a = kCentre * across[x] + kNext * (across[x - 1] + across[x + 1]) +
                        kAfter * (across[x - 2] + across[x + 2]),
                    d = kCentre * down[x] + kNext * (down[x - stride] + down[x + stride]) +
                        kAfter * (down[x - 2 * stride] + down[x + 2 * stride]);
        const float difference = colored[x] * (d + share[x] * (a - d));
        out[x] = difference;
        light[x] += difference;
    }
}

/// Green minus the colour that was not sampled, where red or blue was, from its four diagonal neighbours.
WAVECHROMA_WIDE void otherDifferences(const float *__restrict own, const float *__restrict green, int stride,
                                      float *__restrict out, int n)
{
    constexpr float kLeast = 0.01F;
    for (int x = 0; x < n; ++x) {
        const float nw = own[x - stride - 1], ne = own[x - stride + 1], sw = own[x + stride - 1],
                    se = own[x + stride + 1], g = green[x];
        const float falling = std::abs(nw - se) + std::abs(green[x - stride - 1] - g) +
                              std::abs(green[x + stride + 1] - g) + kLeast,
                    rising = std::abs(ne - sw) + std::abs(green[x - stride + 1] - g) +
                             std::abs(green[x + stride - 1] - g) + kLeast;
        const float f = falling * falling, r = rising * rising;
        out[x] = (r * (nw + se) + f * (ne + sw)) / (2 * (f + r));
    }
}

/// Green minus both colours at every pixel of a row, as roots, and from these linear light. `own` is the
/// colour sampled in this row beside green.
WAVECHROMA_WIDE void finish(const float *__restrict own, const float *__restrict other, int stride,
                            const float *__restrict share, const float *__restrict colored,
                            const float *__restrict green, float *__restrict ownOut,
                            float *__restrict greenOut, float *__restrict otherOut, int n)
{
    for (int x = 0; x < n; ++x) {
        const float s = share[x], c = colored[x];
        const float ownBeside = (own[x - 1] + own[x + 1]) * 0.5F,
                    ownAbove = (other[x - stride] + other[x + stride]) * 0.5F,
                    otherBeside = (other[x - 1] + other[x + 1]) * 0.5F,
                    otherAbove = (own[x - stride] + own[x + stride]) * 0.5F;
        const float ownDifference = c * own[x] + (1 - c) * (ownAbove + s * (ownBeside - ownAbove)),
                    otherDifference = c * other[x] + (1 - c) * (otherAbove + s * (otherBeside - otherAbove));
        const float g = green[x];
        const float o = g - ownDifference, t = g - otherDifference;
        const float og = g > 0 ? g : 0, oo = o > 0 ? o : 0, ot = t > 0 ? t : 0;
        greenOut[x] = og * og - kOffset;
        ownOut[x] = oo * oo - kOffset;
        otherOut[x] = ot * ot - kOffset;
    }
}

} // namespace

BayerDemosaic::BayerDemosaic(int mostWidth, int mostHeight)
{
    makeRoom(mostWidth, mostHeight);
}

void BayerDemosaic::makeRoom(int width, int height)
{
    const size_t columns = size_t(width + 2 * kMargin), rows = size_t(height + 2 * kMargin);
    const size_t all = columns * rows;
    if (all <= m_light.size() && columns + 2 <= m_ones.size())
        return;
    for (auto *plane : {&m_light, &m_across, &m_down, &m_share, &m_own, &m_other})
        plane->resize(std::max(all, plane->size()));
    for (auto *plane : {&m_quadsAcross, &m_quadsDown})
        plane->resize(std::max(all / 4, plane->size()));
    m_ones.assign(std::max(m_ones.size(), columns + 2), 0);
    for (size_t i = 0; i < m_ones.size(); i += 2)
        m_ones[i] = 1;
}

void BayerDemosaic::begin(int width, int height, int redX, int redY)
{
    makeRoom(width, height);
    m_width = width;
    m_height = height;
    m_redX = redX;
    m_redY = redY;
    m_stride = width + 2 * kMargin;
    m_rows = height + 2 * kMargin;
}

void BayerDemosaic::run()
{
    // Rows and columns here run from the margin's begin; each step reaches one ring less far out. A row takes
    // each of them as soon as the rows that it needs are there, while they are still close to the processor.
    for (int y = 0; y < m_rows; ++y) {
        toRoots(rowOf(m_light, 0, y), m_stride);
        if (y >= 4)
            fillDifferences(y - 2);
        if (y % 2 == 0 && y >= 8)
            fillChanges(y / 2 - 2);
        if (y % 2 == 0 && y >= 12)
            fillGreen(y / 2 - 3);
    }
}

void BayerDemosaic::fillDifferences(int y)
{
    const float *colored = pattern(firstColored(y)); // from an even column on
    differences(rowOf(m_light, 2, y), colored, 1, 2, rowOf(m_across, 2, y), m_stride - 4);
    differences(rowOf(m_light, 2, y), colored, m_stride, 2 * m_stride, rowOf(m_down, 2, y), m_stride - 4);
}

void BayerDemosaic::fillChanges(int q)
{
    const int cells = m_stride / 2, from = q * cells + 2;
    const auto fill = [&](std::vector<float> &plane, int one, std::vector<float> &out) {
        changes(rowOf(plane, 4, 2 * q), rowOf(plane, 4, 2 * q + 1), one, out.data() + from, cells - 4);
    };
    fill(m_across, 1, m_quadsAcross);
    fill(m_down, m_stride, m_quadsDown);
}

void BayerDemosaic::fillGreen(int q)
{
    const int cells = m_stride / 2, from = q * cells + 3;
    shares(m_quadsAcross.data() + from, m_quadsDown.data() + from, cells, rowOf(m_share, 6, 2 * q),
           cells - 6);
    std::copy_n(rowOf(m_share, 6, 2 * q), m_stride - 12, rowOf(m_share, 6, 2 * q + 1));
    for (const int y : {2 * q, 2 * q + 1}) {
        ownDifferences(rowOf(m_across, 6, y), rowOf(m_down, 6, y), m_stride, rowOf(m_share, 6, y),
                       pattern(firstColored(y)), rowOf(m_light, 6, y), rowOf(m_own, 6, y), m_stride - 12);
        if (y > 7)
            otherDifferences(rowOf(m_own, 7, y - 1), rowOf(m_light, 7, y - 1), m_stride,
                             rowOf(m_other, 7, y - 1), m_stride - 14);
    }
}

void BayerDemosaic::colors(int y, float *red, float *green, float *blue) const
{
    const size_t from = size_t(y + kMargin) * size_t(m_stride) + size_t(kMargin);
    const bool isRedRow = (y & 1) == m_redY;
    finish(m_own.data() + from, m_other.data() + from, m_stride, m_share.data() + from,
           pattern(firstColored(y)), m_light.data() + from, isRedRow ? red : blue, green,
           isRedRow ? blue : red, m_width);
}

} // namespace wavechroma
