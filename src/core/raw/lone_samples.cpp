#include "core/raw/lone_samples.h"

#include "core/base/wide.h"

#include <algorithm>
#include <cmath>
#include <cstring>
#include <utility>

namespace wavechroma {

namespace {

constexpr float kLeast = 0.015F; ///< of saturation
/// Of light in the centre. A very sharp lens (a spread of half a photosite) shows 0.23 of white light in
/// either colour beside, and half of that where the camera hardly sees that colour.
constexpr float kShownBeside = 1 / 16.0F;

/// Marks what lies beyond its neighbours of two samples away, generously; how much is marked in all.
WAVECHROMA_WIDE uint16_t marked(const uint16_t *__restrict above, const uint16_t *__restrict row,
                                const uint16_t *__restrict below, uint16_t black, uint16_t least,
                                uint16_t *__restrict out, int n)
{
    const auto larger = [](uint16_t a, uint16_t b) { return a > b ? a : b; };
    const auto smaller = [](uint16_t a, uint16_t b) { return a < b ? a : b; };
    uint16_t any = 0;
    for (int x = 0; x < n; ++x) {
        const uint16_t topAbove = larger(larger(above[x - 2], above[x]), above[x + 2]),
                       topBelow = larger(larger(below[x - 2], below[x]), below[x + 2]),
                       top = larger(larger(topAbove, topBelow), larger(row[x - 2], row[x + 2]));
        const uint16_t lowAbove = smaller(smaller(above[x - 2], above[x]), above[x + 2]),
                       lowBelow = smaller(smaller(below[x - 2], below[x]), below[x + 2]),
                       low = smaller(smaller(lowAbove, lowBelow), smaller(row[x - 2], row[x + 2]));
        const uint16_t over = uint16_t(larger(row[x], top) - top),
                       under = uint16_t(low - smaller(row[x], low));
        const uint16_t lit = uint16_t(larger(top, black) - black),
                       lowLit = uint16_t(larger(low, black) - black);
        out[x] = uint16_t((over > uint16_t(lit / 4 + least)) | (under > uint16_t(lowLit / 2 + least)));
        any = uint16_t(any | out[x]);
    }
    return any;
}

/// Where the next mark is, or `to`. Most rows have few.
int nextMark(const std::vector<uint16_t> &marks, int from, int to)
{
    for (uint64_t four = 0; from + 4 <= to; from += 4) {
        std::memcpy(&four, marks.data() + from, sizeof four);
        if (four)
            break;
    }
    while (from < to && !marks[size_t(from)])
        ++from;
    return from;
}

/// Parts of frames are read row by row, and a row lies pages away from the next, which the processor does not
/// foresee.
void fetchSoon(const uint16_t *codes, int n)
{
    constexpr int kLine = 32; // codes
    for (int x = 0; x < n; x += kLine)
        __builtin_prefetch(codes + x);
}

/// Codes around a sample, `at(0, 0)`, whose black it is.
template <class At> bool standsAlone(const At &at, int black, int least)
{
    int top = 0, low = 1 << 16;
    for (int dy = -2; dy <= 2; dy += 2)
        for (int dx = -2; dx <= 2; dx += 2)
            if (dx || dy) {
                top = std::max(top, at(dx, dy));
                low = std::min(low, at(dx, dy));
            }
    const int over = at(0, 0) - top, under = low - at(0, 0);
    const bool isBright = over > std::max(top - black, 0) / 4 + least,
               isDark = under > std::max(low - black, 0) / 2 + least;
    if (!isBright && !isDark)
        return false;
    // What its neighbours of two other colours have over others of theirs, in twelfths.
    const int across = 6 * (at(-1, 0) + at(1, 0)) -
                       2 * (at(-3, 0) + at(3, 0) + at(-1, -2) + at(1, -2) + at(-1, 2) + at(1, 2)),
              down = 6 * (at(0, -1) + at(0, 1)) -
                     2 * (at(0, -3) + at(0, 3) + at(-2, -1) + at(-2, 1) + at(2, -1) + at(2, 1));
    const float shown = float(isBright ? std::max(across, down) : -std::min(across, down)) / 12;
    return shown < float(isBright ? over : under) * kShownBeside;
}

} // namespace

int mirrored(int at, int size)
{
    if (at < 0)
        at = -at;
    if (at >= size)
        at = 2 * (size - 1) - at;
    return std::clamp(at, 0, size - 1);
}

bool hasBayerMosaic(const RawFrame &frame)
{
    if (!frame.mosaic || frame.mosaic->periodX % 2 || frame.mosaic->periodY % 2)
        return false;
    const auto &m = *frame.mosaic;
    const auto at = [&](int x, int y) { return m.channel[m.cell(x, y)]; };
    for (int y = 0; y < m.periodY; ++y)
        for (int x = 0; x < m.periodX; ++x)
            if (at(x, y) != at(x % 2, y % 2))
                return false;
    const bool greenFirst = at(0, 0) == 1;
    const auto one = greenFirst ? at(1, 0) : at(0, 0), two = greenFirst ? at(0, 1) : at(1, 1);
    return (greenFirst ? at(1, 1) : at(1, 0)) == 1 && (greenFirst || at(0, 1) == 1) && one + two == 2 &&
           one != 1;
}

LoneSamples::LoneSamples(const Mosaic &mosaic, int width, int height)
    : m_mosaic(mosaic), m_width(width), m_height(height)
{
}

bool LoneSamples::isDefect(int x, int y) const
{
    const float black = m_mosaic.black[m_mosaic.cell(x, y)];
    const int least = int(kLeast * (m_mosaic.white - black));
    const bool isInside = x >= 3 && y >= 3 && x < m_width - 3 && y < m_height - 3;
    if (!isInside)
        return standsAlone(
            [&](int dx, int dy) {
                return int(m_mosaic.code(mirrored(x + dx, m_width), mirrored(y + dy, m_height)));
            },
            int(black), least);
    const uint16_t *own = m_mosaic.samples + y * m_mosaic.rowStride + x;
    return standsAlone([&](int dx, int dy) { return int(own[dy * m_mosaic.rowStride + dx]); }, int(black),
                       least);
}

uint16_t LoneSamples::between(int x, int y) const
{
    const auto code = [&](int dx, int dy) {
        return int(m_mosaic.code(mirrored(x + dx, m_width), mirrored(y + dy, m_height)));
    };
    int least = 1 << 17, sum = 0;
    for (const auto &[dx, dy] : {std::pair{2, 0}, {0, 2}, {2, 2}, {2, -2}}) {
        const int one = code(dx, dy), other = code(-dx, -dy);
        if (std::abs(one - other) < least) {
            least = std::abs(one - other);
            sum = one + other;
        }
    }
    return uint16_t(sum / 2);
}

void LoneSamples::mend(int x, int y, int from)
{
    if (!isDefect(x, y))
        return;
    if (!m_isMended) {
        const auto *codes = m_mosaic.samples + y * m_mosaic.rowStride;
        std::copy_n(codes + from, m_row.size(), m_row.begin());
        m_isMended = true;
    }
    m_row[size_t(x - from)] = between(x, y);
}

const uint16_t *LoneSamples::row(int y, int from, int to)
{
    const auto rowOf = [&](int at) { return m_mosaic.samples + mirrored(at, m_height) * m_mosaic.rowStride; };
    const uint16_t *codes = rowOf(y);
    fetchSoon(rowOf(y + 6) + from, to - from);
    m_isMended = false;
    m_row.resize(size_t(to - from));
    m_marks.resize(m_row.size());
    // Beside the frame's edge a sample is looked at closer at once.
    const int first = std::max(from, 2), last = std::max(first, std::min(to, m_width - 2));
    for (int x = from; x < std::min(first, to); ++x)
        mend(x, y, from);
    for (int x = last; x < to; ++x)
        mend(x, y, from);
    float black = 0, least = 65535;
    for (int x = 0; x < m_mosaic.periodX; ++x) {
        const float own = m_mosaic.black[m_mosaic.cell(x, y)];
        black = std::max(black, own);
        least = std::min(least, kLeast * (m_mosaic.white - own));
    }
    const auto code = [](float v) { return uint16_t(std::clamp(v, 0.0F, 40000.0F)); };
    if (last > first &&
        marked(rowOf(y - 2) + first, codes + first, rowOf(y + 2) + first, code(std::ceil(black)),
               code(std::floor(least) - 1), m_marks.data(), last - first))
        for (int k = nextMark(m_marks, 0, last - first); k < last - first;
             k = nextMark(m_marks, k + 1, last - first))
            mend(first + k, y, from);
    return m_isMended ? m_row.data() : codes + from;
}

} // namespace wavechroma
