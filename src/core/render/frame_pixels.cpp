#include "core/render/frame_pixels.h"

#include "core/base/wide.h"
#include "core/raw/library_picture.h"
#include "core/raw/overview.h"
#include "core/render/other_demosaic.h"

#include <algorithm>

namespace wavechroma {

namespace {

constexpr int kMargin = BayerDemosaic::kMargin;

/// Two cells of a row in turn.
struct RowScale
{
    float black[2], scale[2];
};

WAVECHROMA_WIDE void scaled(const uint16_t *__restrict codes, const RowScale &by, float *__restrict out,
                            int pairs)
{
    for (int i = 0; i < pairs; ++i) {
        out[2 * i] = (float(codes[2 * i]) - by.black[0]) * by.scale[0];
        out[2 * i + 1] = (float(codes[2 * i + 1]) - by.black[1]) * by.scale[1];
    }
}

/// `steepness`: 25 over the level of saturation.
inline float clipped(float value, float steepness)
{
    const float share = positive(value * steepness - 23.75F);
    return share < 1 ? share : 1;
}

/// Whether any of n values of three channels is close to saturation.
WAVECHROMA_WIDE bool areClipped(const float *__restrict r, const float *__restrict g,
                                const float *__restrict b, const float *__restrict steepR,
                                const float *__restrict steepG, const float *__restrict steepB, int n)
{
    int any = 0;
    for (int x = 0; x < n; ++x)
        any |=
            int(r[x] * steepR[x] > 23.75F) | int(g[x] * steepG[x] > 23.75F) | int(b[x] * steepB[x] > 23.75F);
    return any != 0;
}

WAVECHROMA_WIDE void keepClippedNeutral(float *__restrict r, float *__restrict g, float *__restrict b,
                                        const float *__restrict steepR, const float *__restrict steepG,
                                        const float *__restrict steepB, int n)
{
    for (int x = 0; x < n; ++x) {
        const float most = r[x] > g[x] ? r[x] : g[x], top = most > b[x] ? most : b[x];
        r[x] += clipped(r[x], steepR[x]) * (top - r[x]);
        g[x] += clipped(g[x], steepG[x]) * (top - g[x]);
        b[x] += clipped(b[x], steepB[x]) * (top - b[x]);
    }
}

} // namespace

Result<RawFrame> withoutOtherMosaic(const RawFrame &frame)
{
    if (!frame.mosaic || hasBayerMosaic(frame))
        return frame;
    if (frame.mosaic->isOfLibrary)
        return pictureByLibrary(frame);
    RawFrame out = frame;
    out.picture = demosaicedByMeans(frame);
    out.mosaic.reset();
    out.memory.reset();
    return out;
}

PixelRowUse RgbRows::taking(const PixelArea &area)
{
    width = area.width;
    height = area.height;
    for (auto *channel : {&red, &green, &blue})
        channel->resize(size_t(width) * size_t(height));
    return [this](int y, const float *r, const float *g, const float *b) {
        const size_t from = size_t(y) * size_t(width);
        std::copy_n(r, width, red.data() + from);
        std::copy_n(g, width, green.data() + from);
        std::copy_n(b, width, blue.data() + from);
    };
}

FramePixels::FramePixels(const RawFrame &frame, const Vector3 &gains) : m_frame(frame), m_gains(gains)
{
    if (!frame.mosaic)
        return;
    m_codes.emplace(*frame.mosaic, frame.width, frame.height);
    for (int y = 0; y < 2; ++y)
        for (int x = 0; x < 2; ++x)
            if (frame.mosaic->channel[frame.mosaic->cell(x, y)] == 0) {
                m_redX = x;
                m_redY = y;
            }
}

void FramePixels::fillSamples(const PixelArea &area, int y)
{
    const auto &m = *m_frame.mosaic;
    const int w = m_frame.width, fy = mirrored(y, m_frame.height);
    // Columns that need no mirroring, an even count of them from an even one on.
    const int from = std::max(0, area.x - kMargin), end = std::min(w, area.x + area.width + kMargin),
              to = end / 2 * 2,
              first = std::min(from, mirrored(area.x + area.width + kMargin - 1, w)); // of those looked at
    float *out = m_demosaic.samples();
    const uint16_t *codes = m_codes->row(fy, first, end);
    const auto scaleAt = [&](int x) {
        return float(m_gains[m.channel[m.cell(x, fy)]]) / (m.white - m.black[m.cell(x, fy)]);
    };
    const auto value = [&](int x) { return (float(codes[x - first]) - m.black[m.cell(x, fy)]) * scaleAt(x); };
    if (m.periodX == 2) {
        const RowScale by{{m.black[m.cell(0, fy)], m.black[m.cell(1, fy)]}, {scaleAt(0), scaleAt(1)}};
        scaled(codes + from - first, by, out + from - area.x + kMargin, (to - from) / 2);
    } else
        for (int x = from; x < to; ++x)
            out[x - area.x + kMargin] = value(x);
    for (int x = area.x - kMargin; x < from; ++x)
        out[x - area.x + kMargin] = value(mirrored(x, w));
    for (int x = to; x < area.x + area.width + kMargin; ++x)
        out[x - area.x + kMargin] = value(mirrored(x, w));
    if (m_frame.evening())
        for (int x = -kMargin; x < area.width + kMargin; ++x) {
            const int fx = mirrored(area.x + x, w);
            out[x + kMargin] *= m_frame.evening()->at(m.channel[m.cell(fx, fy)], fx + 0.5, fy + 0.5);
        }
}

void FramePixels::fillPicture(const PixelArea &area, int y, float *const rgb[3]) const
{
    const size_t from = size_t(area.y + y) * size_t(m_frame.width) + size_t(area.x);
    for (size_t c = 0; c < 3; ++c) {
        float *row = rgb[c];
        const auto gain = float(m_gains[c]);
        for (int x = 0; x < area.width; ++x)
            row[x] = m_frame.picture->value(from + size_t(x), c) * gain;
        if (m_frame.evening())
            for (int x = 0; x < area.width; ++x)
                row[x] *= m_frame.evening()->at(c, area.x + x + 0.5, area.y + y + 0.5);
    }
}

void FramePixels::fillSteepness(const PixelArea &area, int y)
{
    for (size_t c = 0; c < 3; ++c) {
        const float level = float(m_gains[c]) * (m_frame.picture ? m_frame.picture->saturation : 1.0F);
        m_steepness[c].assign(size_t(area.width), 25 / level);
        if (m_frame.evening())
            for (int x = 0; x < area.width; ++x)
                m_steepness[c][size_t(x)] /= m_frame.evening()->at(c, area.x + x + 0.5, area.y + y + 0.5);
    }
}

void FramePixels::handOn(const PixelArea &area, int y, float *const rgb[3], const PixelRowUse &use)
{
    if (y == 0 || m_frame.evening())
        fillSteepness(area, y);
    const float *steepness[] = {m_steepness[0].data(), m_steepness[1].data(), m_steepness[2].data()};
    if (areClipped(rgb[0], rgb[1], rgb[2], steepness[0], steepness[1], steepness[2], area.width))
        keepClippedNeutral(rgb[0], rgb[1], rgb[2], steepness[0], steepness[1], steepness[2], area.width);
    use(y, rgb[0], rgb[1], rgb[2]);
}

void FramePixels::readMosaic(const PixelArea &area, const PixelRowUse &use)
{
    const int beforeX = area.x & 1, beforeY = area.y & 1; // parts begin at whole filter cells
    const PixelArea whole{area.x - beforeX, area.y - beforeY, (area.width + beforeX + 1) / 2 * 2,
                          area.height + beforeY};
    m_demosaic.begin(whole.width, m_redX, m_redY);
    for (auto &row : m_rows)
        row.resize(size_t(whole.width));
    for (int y = -kMargin; y < whole.height + kMargin; ++y) {
        fillSamples(whole, whole.y + y);
        m_demosaic.push();
        if (y < kMargin + beforeY)
            continue;
        m_demosaic.colors(y - kMargin, m_rows[0].data(), m_rows[1].data(), m_rows[2].data());
        float *rgb[] = {m_rows[0].data() + beforeX, m_rows[1].data() + beforeX, m_rows[2].data() + beforeX};
        handOn(area, y - kMargin - beforeY, rgb, use);
    }
}

void FramePixels::readPicture(const PixelArea &area, const PixelRowUse &use)
{
    for (auto &row : m_rows)
        row.resize(size_t(area.width));
    float *rgb[] = {m_rows[0].data(), m_rows[1].data(), m_rows[2].data()};
    for (int y = 0; y < area.height; ++y) {
        fillPicture(area, y, rgb);
        handOn(area, y, rgb, use);
    }
}

void FramePixels::read(const PixelArea &area, const PixelRowUse &use)
{
    if (m_frame.mosaic)
        readMosaic(area, use);
    else
        readPicture(area, use);
}

} // namespace wavechroma
