#include "core/render/demosaic.h"

#include "core/base/wide.h"

#include <algorithm>
#include <cmath>
#include <cstdint>

namespace wavechroma {

namespace {

constexpr float kOffset = 0.008F; ///< added to light before its root; noise below black stays noise
/// Green's samples one and three pixels away, after smoothing by ¼, ½, ¼.
constexpr float kNear = 7 / 16.0F, kFar = 1 / 16.0F;
constexpr float kLeastChange = 1e-3F; ///< below it no direction is better than the other
/// Added to variances and covariances of roots, so that slopes are 1 where nothing changes: some 16 times the
/// variance of the noise of 40 000 electrons. From half to five times as much made 0.1 dB of difference, for
/// 2 000 electrons too.
constexpr float kPlain = 2e-4F;
constexpr float kMostSlope = 3;
constexpr int kAtOnce = 16, kSlack = 16; ///< values that rows are multiples of; before and after each

WAVECHROMA_WIDE void toRoots(const float *__restrict samples, float *__restrict even, float *__restrict odd,
                             int n)
{
    for (int k = 0; k < n; ++k) {
        even[k] = std::sqrt(positive(samples[2 * k] + kOffset));
        odd[k] = std::sqrt(positive(samples[2 * k + 1] + kOffset));
    }
}

/// Where the neighbours of a row lie: green's beside sample k of the coloured ones are k + shift − 1 and
/// k + shift, coloured ones beside sample k of the green ones k − shift and k − shift + 1. Above and below
/// it is k itself.
WAVECHROMA_WIDE void across(const float *__restrict colored, const float *__restrict green, int shift,
                            float *__restrict atColored, float *__restrict atGreen, int n)
{
    const float *__restrict left = green + shift - 1, *__restrict before = colored - shift;
    for (int k = 0; k < n; ++k) {
        atColored[k] =
            (left[k] + left[k + 1]) * 0.5F - colored[k] * 0.5F - (colored[k - 1] + colored[k + 1]) * 0.25F;
        atGreen[k] =
            green[k] * 0.5F + (green[k - 1] + green[k + 1]) * 0.25F - (before[k] + before[k + 1]) * 0.5F;
    }
}

/// Differences where one kind was sampled, from its rows y − 2, y and y + 2 and the other kind's y − 1, y
/// + 1.
WAVECHROMA_WIDE void down(float sign, const float *__restrict own, const float *__restrict own2Above,
                          const float *__restrict own2Below, const float *__restrict above,
                          const float *__restrict below, float *__restrict out, int n)
{
    for (int k = 0; k < n; ++k)
        out[k] =
            sign * (own[k] * 0.5F + (own2Above[k] + own2Below[k]) * 0.25F - (above[k] + below[k]) * 0.5F);
}

/// How much the differences along the two rows of cells change at their pixels. `shift`: of the upper one.
WAVECHROMA_WIDE void changesAcross(const float *__restrict upperColored, const float *__restrict upperGreen,
                                   const float *__restrict lowerColored, const float *__restrict lowerGreen,
                                   int shift, float *__restrict out, int n)
{
    const float *__restrict u = upperGreen + shift - 1, *__restrict v = upperColored - shift;
    const float *__restrict l = lowerGreen - shift, *__restrict m = lowerColored - 1 + shift;
    for (int k = 0; k < n; ++k)
        out[k] = std::abs(u[k] - u[k + 1]) + std::abs(v[k] - v[k + 1]) + std::abs(l[k] - l[k + 1]) +
                 std::abs(m[k] - m[k + 1]);
}

/// Differences along columns in four rows, the second and third of them being the cells'.
struct DownRows
{
    const float *colored[4], *green[4];
};

WAVECHROMA_WIDE void changesDown(const DownRows &rows, float *__restrict out, int n)
{
    const float *__restrict c0 = rows.colored[0], *__restrict c1 = rows.colored[1],
                            *__restrict c2 = rows.colored[2], *__restrict c3 = rows.colored[3];
    const float *__restrict g0 = rows.green[0], *__restrict g1 = rows.green[1],
                            *__restrict g2 = rows.green[2], *__restrict g3 = rows.green[3];
    for (int k = 0; k < n; ++k)
        out[k] = std::abs(c0[k] - c2[k]) + std::abs(g0[k] - g2[k]) + std::abs(c1[k] - c3[k]) +
                 std::abs(g1[k] - g3[k]);
}

/// Shares of the direction across for one row of cells, from the changes of three.
WAVECHROMA_WIDE void shares(const float *const across[3], const float *const down[3], float *__restrict out,
                            int n)
{
    const float *__restrict a0 = across[0], *__restrict a1 = across[1], *__restrict a2 = across[2];
    const float *__restrict d0 = down[0], *__restrict d1 = down[1], *__restrict d2 = down[2];
    for (int k = 0; k < n; ++k) {
        const float a = (a0[k - 1] + a0[k] + a0[k + 1]) + (a1[k - 1] + a1[k] + a1[k + 1]) +
                        (a2[k - 1] + a2[k] + a2[k + 1]),
                    d = (d0[k - 1] + d0[k] + d0[k + 1]) + (d1[k - 1] + d1[k] + d1[k + 1]) +
                        (d2[k - 1] + d2[k] + d2[k + 1]);
        const float x = a * (1.0F / 36) + kLeastChange, y = d * (1.0F / 36) + kLeastChange;
        const float x3 = x * x * x, y3 = y * y * y;
        out[k] = y3 / (x3 + y3);
    }
}

/// Green and detail at coloured samples, both directions by their shares. `green`: its rows y − 3, y − 1,
/// y + 1 and y + 3; `left`: its row y, see across(); `colored`: rows y − 2, y and y + 2.
WAVECHROMA_WIDE void firstGreen(const float *const green[4], const float *__restrict left,
                                const float *const colored[3], const float *__restrict share,
                                float *__restrict filled, float *__restrict detail, int n)
{
    const float *__restrict g0 = green[0], *__restrict g1 = green[1], *__restrict g2 = green[2],
                            *__restrict g3 = green[3];
    const float *__restrict c0 = colored[0], *__restrict c1 = colored[1], *__restrict c2 = colored[2];
    for (int k = 0; k < n; ++k) {
        const float smoothAcross = kNear * (left[k] + left[k + 1]) + kFar * (left[k - 1] + left[k + 2]),
                    smoothDown = kNear * (g1[k] + g2[k]) + kFar * (g0[k] + g3[k]);
        const float besides = c1[k - 1] + c1[k + 1], aboveAndBelow = c0[k] + c2[k];
        const float smooth = smoothDown + share[k] * (smoothAcross - smoothDown),
                    more = c1[k] * 0.5F - (aboveAndBelow + share[k] * (besides - aboveAndBelow)) * 0.25F;
        detail[k] = more;
        filled[k] = smooth + more;
    }
}

WAVECHROMA_WIDE void sumsOfColored(const float *__restrict colored, float *__restrict sum,
                                   float *__restrict squares, int n)
{
    for (int k = 0; k < n; ++k) {
        const float a = colored[k - 1], b = colored[k], c = colored[k + 1];
        sum[k] = a + b + c;
        squares[k] = a * a + b * b + c * c;
    }
}

WAVECHROMA_WIDE void sumsOfFirst(const float *__restrict filled, const float *__restrict colored,
                                 float *__restrict sum, float *__restrict products, int n)
{
    for (int k = 0; k < n; ++k) {
        const float a = filled[k - 1], b = filled[k], c = filled[k + 1];
        sum[k] = a + b + c;
        products[k] = a * colored[k - 1] + b * colored[k] + c * colored[k + 1];
    }
}

WAVECHROMA_WIDE void sumsOfFilled(const float *__restrict filled, const float *__restrict colored,
                                  float *__restrict sum, float *__restrict squares,
                                  float *__restrict products, int n)
{
    for (int k = 0; k < n; ++k) {
        const float a = filled[k - 1], b = filled[k], c = filled[k + 1];
        sum[k] = a + b + c;
        squares[k] = a * a + b * b + c * c;
        products[k] = a * colored[k - 1] + b * colored[k] + c * colored[k + 1];
    }
}

/// Three rows of sums, of one colour.
struct Sums
{
    const float *x[3], *x2[3], *y[3], *xy[3];
};

/// Slopes of y as a function of x over nine samples.
WAVECHROMA_WIDE void slopes(const Sums &s, float *__restrict out, int n)
{
    const float *__restrict xA = s.x[0], *__restrict xB = s.x[1], *__restrict xC = s.x[2];
    const float *__restrict x2A = s.x2[0], *__restrict x2B = s.x2[1], *__restrict x2C = s.x2[2];
    const float *__restrict yA = s.y[0], *__restrict yB = s.y[1], *__restrict yC = s.y[2];
    const float *__restrict xyA = s.xy[0], *__restrict xyB = s.xy[1], *__restrict xyC = s.xy[2];
    for (int k = 0; k < n; ++k) {
        const float x = xA[k] + xB[k] + xC[k], x2 = x2A[k] + x2B[k] + x2C[k], y = yA[k] + yB[k] + yC[k],
                    xy = xyA[k] + xyB[k] + xyC[k];
        const float slope = (9 * xy - x * y + 81 * kPlain) / (9 * x2 - x * x + 81 * kPlain);
        const float rising = positive(slope);
        out[k] = rising < kMostSlope ? rising : kMostSlope;
    }
}

WAVECHROMA_WIDE void steepen(const float *__restrict slope, const float *__restrict detail,
                             float *__restrict filled, int n)
{
    for (int k = 0; k < n; ++k)
        filled[k] += (slope[k] - 1) * detail[k];
}

WAVECHROMA_WIDE void intercepts(const float *__restrict slope, const float *__restrict x,
                                const float *__restrict y, float *__restrict out, int n)
{
    for (int k = 0; k < n; ++k)
        out[k] = y[k] - slope[k] * x[k];
}

/// A row as its diagonal neighbours see it: from the one on the left on.
struct Diagonal
{
    const float *colored, *filled, *slope, *intercept;
};

/// Lines of the colour that was not sampled, from those of its four diagonal neighbours.
WAVECHROMA_WIDE void otherLines(const Diagonal &above, const Diagonal &below, const float *__restrict filled,
                                float *__restrict slope, float *__restrict intercept, int n)
{
    constexpr float kLeast = 0.01F;
    const float *__restrict colorAbove = above.colored, *__restrict colorBelow = below.colored;
    const float *__restrict greenAbove = above.filled, *__restrict greenBelow = below.filled;
    const float *__restrict slopeAbove = above.slope, *__restrict slopeBelow = below.slope;
    const float *__restrict fromAbove = above.intercept, *__restrict fromBelow = below.intercept;
    for (int k = 0; k < n; ++k) {
        const float g = filled[k];
        const float falling = std::abs(colorAbove[k] - colorBelow[k + 1]) + std::abs(greenAbove[k] - g) +
                              std::abs(greenBelow[k + 1] - g) + kLeast,
                    rising = std::abs(colorAbove[k + 1] - colorBelow[k]) + std::abs(greenAbove[k + 1] - g) +
                             std::abs(greenBelow[k] - g) + kLeast;
        const float f = falling * falling, r = rising * rising, share = r / (2 * (f + r)),
                    rest = 0.5F - share;
        slope[k] = share * (slopeAbove[k] + slopeBelow[k + 1]) + rest * (slopeAbove[k + 1] + slopeBelow[k]);
        intercept[k] = share * (fromAbove[k] + fromBelow[k + 1]) + rest * (fromAbove[k + 1] + fromBelow[k]);
    }
}

/// Lines of one colour round green samples: those of its row, from the one on the left on, and of the rows
/// above and below.
struct LinesAround
{
    const float *slope, *slopeAbove, *slopeBelow, *intercept, *interceptAbove, *interceptBelow;
};

WAVECHROMA_WIDE void atGreen(const LinesAround &lines, const float *__restrict share,
                             const float *__restrict green, float *__restrict out, int n)
{
    const float *__restrict slope = lines.slope, *__restrict slopeAbove = lines.slopeAbove,
                            *__restrict slopeBelow = lines.slopeBelow;
    const float *__restrict from = lines.intercept, *__restrict fromAbove = lines.interceptAbove,
                            *__restrict fromBelow = lines.interceptBelow;
    for (int k = 0; k < n; ++k) {
        const float slopesDown = slopeAbove[k] + slopeBelow[k], slopesAcross = slope[k] + slope[k + 1],
                    fromDown = fromAbove[k] + fromBelow[k], fromAcross = from[k] + from[k + 1];
        const float s = share[k], a = slopesDown + s * (slopesAcross - slopesDown),
                    b = fromDown + s * (fromAcross - fromDown);
        out[k] = (b + a * green[k]) * 0.5F;
    }
}

WAVECHROMA_WIDE void atColored(const float *__restrict slope, const float *__restrict intercept,
                               const float *__restrict filled, float *__restrict out, int n)
{
    for (int k = 0; k < n; ++k)
        out[k] = intercept[k] + slope[k] * filled[k];
}

WAVECHROMA_WIDE void toLight(const float *__restrict even, const float *__restrict odd, float *__restrict out,
                             int n)
{
    for (int k = 0; k < n; ++k) {
        const float a = positive(even[k]), b = positive(odd[k]);
        out[2 * k] = a * a - kOffset;
        out[2 * k + 1] = b * b - kOffset;
    }
}

} // namespace

void BayerDemosaic::begin(int width, int redX, int redY)
{
    m_width = width;
    m_redX = redX;
    m_redY = redY;
    m_row = 0;
    m_cells = (width / 2 + kMargin + kAtOnce - 1) / kAtOnce * kAtOnce;
    m_pitch = size_t(m_cells + 2 * kSlack);
    m_samples.resize(size_t(2 * m_cells));
    m_scratch.resize(size_t(2 * m_cells));
    m_rows.resize(std::max(m_rows.size(), size_t(kPlanes) * (kRows * m_pitch + kPlaneGap) + kAtOnce));
    // Rows begin where the widest registers load whole.
    const auto at = reinterpret_cast<uintptr_t>(m_rows.data()) % (kAtOnce * sizeof(float));
    m_first = m_rows.data() + (at ? kAtOnce - at / sizeof(float) : 0) + kSlack;
}

void BayerDemosaic::push()
{
    // Each step reaches as many rows further down as it needs. A row takes each of them as soon as the rows
    // that it needs are there, while they are still close to the processor.
    const int y = m_row++;
    const bool isShifted = shiftOf(y) != 0;
    toRoots(m_samples.data(), row(isShifted ? kGreen : kColored, y), row(isShifted ? kColored : kGreen, y),
            m_cells);
    across(row(kColored, y), row(kGreen, y), shiftOf(y), row(kAcrossColored, y), row(kAcrossGreen, y),
           m_cells);
    if (y >= 4)
        fillDown(y - 2);
    if (y % 2 != 0 || y < 8)
        return;
    const int upper = y - 4; // of the cells whose changes are known now
    fillShares(upper);
    for (const int at : {0, 1}) {
        if (upper >= 8)
            fillGreen(upper - 2 + at);
        if (upper >= 12)
            steepenGreen(upper - 4 + at);
        if (upper >= 16)
            fillLines(upper - 6 + at);
        if (upper >= 18)
            fillOtherLines(upper - 7 + at);
    }
}

void BayerDemosaic::fillDown(int y)
{
    down(-1, row(kColored, y), row(kColored, y - 2), row(kColored, y + 2), row(kGreen, y - 1),
         row(kGreen, y + 1), row(kDownColored, y), m_cells);
    down(1, row(kGreen, y), row(kGreen, y - 2), row(kGreen, y + 2), row(kColored, y - 1),
         row(kColored, y + 1), row(kDownGreen, y), m_cells);
}

void BayerDemosaic::fillShares(int y)
{
    changesAcross(row(kAcrossColored, y), row(kAcrossGreen, y), row(kAcrossColored, y + 1),
                  row(kAcrossGreen, y + 1), shiftOf(y), row(kChangesAcross, y), m_cells);
    DownRows rows;
    for (int i = 0; i < 4; ++i) {
        rows.colored[i] = row(kDownColored, y - 1 + i);
        rows.green[i] = row(kDownGreen, y - 1 + i);
    }
    changesDown(rows, row(kChangesDown, y), m_cells);
    if (y < 8)
        return;
    const float *across[] = {row(kChangesAcross, y - 4), row(kChangesAcross, y - 2), row(kChangesAcross, y)},
                *down[] = {row(kChangesDown, y - 4), row(kChangesDown, y - 2), row(kChangesDown, y)};
    shares(across, down, row(kShare, y - 2), m_cells);
}

void BayerDemosaic::fillGreen(int y)
{
    const float *green[] = {row(kGreen, y - 3), row(kGreen, y - 1), row(kGreen, y + 1), row(kGreen, y + 3)},
                *colored[] = {row(kColored, y - 2), row(kColored, y), row(kColored, y + 2)};
    firstGreen(green, row(kGreen, y) + shiftOf(y) - 1, colored, row(kShare, y - y % 2), row(kFilled, y),
               row(kDetail, y), m_cells);
    sumsOfColored(row(kColored, y), row(kSumColored, y), row(kSumColored2, y), m_cells);
    sumsOfFirst(row(kFilled, y), row(kColored, y), row(kSumFirst, y), row(kSumFirstColored, y), m_cells);
}

void BayerDemosaic::steepenGreen(int y)
{
    Sums nine;
    for (int i = 0; i < 3; ++i) {
        const int at = y + 2 * i - 2;
        nine.x[i] = row(kSumColored, at);
        nine.x2[i] = row(kSumColored2, at);
        nine.y[i] = row(kSumFirst, at);
        nine.xy[i] = row(kSumFirstColored, at);
    }
    slopes(nine, m_scratch.data(), m_cells);
    steepen(m_scratch.data(), row(kDetail, y), row(kFilled, y), m_cells);
    sumsOfFilled(row(kFilled, y), row(kColored, y), row(kSumFilled, y), row(kSumFilled2, y),
                 row(kSumFilledColored, y), m_cells);
}

void BayerDemosaic::fillLines(int y)
{
    Sums nine;
    for (int i = 0; i < 3; ++i) {
        const int at = y + 2 * i - 2;
        nine.x[i] = row(kSumFilled, at);
        nine.x2[i] = row(kSumFilled2, at);
        nine.y[i] = row(kSumColored, at);
        nine.xy[i] = row(kSumFilledColored, at);
    }
    slopes(nine, row(kSlope, y), m_cells);
    intercepts(row(kSlope, y), row(kFilled, y), row(kColored, y), row(kIntercept, y), m_cells);
}

void BayerDemosaic::fillOtherLines(int y)
{
    const int left = shiftOf(y) - 1;
    const auto diagonal = [&](int at) {
        return Diagonal{row(kColored, at) + left, row(kFilled, at) + left, row(kSlope, at) + left,
                        row(kIntercept, at) + left};
    };
    otherLines(diagonal(y - 1), diagonal(y + 1), row(kFilled, y), row(kOtherSlope, y),
               row(kOtherIntercept, y), m_cells);
}

void BayerDemosaic::colors(int y, float *red, float *green, float *blue)
{
    const int at = y + kMargin, shift = shiftOf(at), n = m_width / 2;
    const auto from = [&](Plane plane, int of) { return row(plane, of) + kMargin / 2; };
    const auto linesOf = [&](Plane slope, Plane intercept, Plane slopeOver, Plane interceptOver) {
        return LinesAround{from(slope, at) - shift,     from(slopeOver, at - 1),
                           from(slopeOver, at + 1),     from(intercept, at) - shift,
                           from(interceptOver, at - 1), from(interceptOver, at + 1)};
    };
    const auto lights = [&](const float *colored, const float *greens, float *out) {
        toLight(shift ? greens : colored, shift ? colored : greens, out, n);
    };
    float *made = m_scratch.data(), *madeToo = made + m_cells;
    const bool isRedRow = (y & 1) == m_redY;
    atGreen(linesOf(kSlope, kIntercept, kOtherSlope, kOtherIntercept), from(kShare, at - at % 2),
            from(kGreen, at), made, n);
    lights(from(kColored, at), made, isRedRow ? red : blue);
    lights(from(kFilled, at), from(kGreen, at), green);
    atGreen(linesOf(kOtherSlope, kOtherIntercept, kSlope, kIntercept), from(kShare, at - at % 2),
            from(kGreen, at), made, n);
    atColored(from(kOtherSlope, at), from(kOtherIntercept, at), from(kFilled, at), madeToo, n);
    lights(madeToo, made, isRedRow ? blue : red);
}

} // namespace wavechroma
