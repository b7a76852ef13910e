#include "core/render/frame_pixels.h"

#include "core/base/wide.h"
#include "core/raw/library_picture.h"

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
inline float burnt(float value, float steepness)
{
    const float share = value * steepness - 23.75F;
    const float positive = share > 0 ? share : 0;
    return positive < 1 ? positive : 1;
}

/// Whether any of n values is close to saturation.
WAVECHROMA_WIDE bool areBurnt(const float *__restrict value, const float *__restrict steepness, int n)
{
    int any = 0;
    for (int x = 0; x < n; ++x)
        any |= int(value[x] * steepness[x] > 23.75F);
    return any != 0;
}

WAVECHROMA_WIDE void keepBurntNeutral(float *__restrict r, float *__restrict g, float *__restrict b,
                                      const float *__restrict steepR, const float *__restrict steepG,
                                      const float *__restrict steepB, int n)
{
    for (int x = 0; x < n; ++x) {
        const float most = r[x] > g[x] ? r[x] : g[x], top = most > b[x] ? most : b[x];
        r[x] += burnt(r[x], steepR[x]) * (top - r[x]);
        g[x] += burnt(g[x], steepG[x]) * (top - g[x]);
        b[x] += burnt(b[x], steepB[x]) * (top - b[x]);
    }
}

} // namespace

Result<RawFrame> withoutOtherMosaic(const RawFrame &frame)
{
    return frame.mosaic && !hasBayerMosaic(frame) ? pictureByLibrary(frame) : Result<RawFrame>(frame);
}

FramePixels::FramePixels(const RawFrame &frame, const Vector3 &gains, int mostWidth, int mostHeight)
    : m_frame(frame), m_gains(gains),
      m_demosaic(frame.mosaic ? (mostWidth + 3) / 2 * 2 : 0, frame.mosaic ? (mostHeight + 3) / 2 * 2 : 0)
{
    if (frame.mosaic)
        m_codes.emplace(*frame.mosaic, frame.width, frame.height);
    if (frame.mosaic)
        for (int y = 0; y < 2; ++y)
            for (int x = 0; x < 2; ++x)
                if (frame.mosaic->channel[frame.mosaic->cell(x, y)] == 0) {
                    m_redX = x;
                    m_redY = y;
                }
}

void FramePixels::fillSamples(const PixelArea &area)
{
    const auto &m = *m_frame.mosaic;
    const int w = m_frame.width, h = m_frame.height;
    // Columns that need no mirroring, an even count of them from an even one on.
    const int from = std::max(0, area.x - kMargin), end = std::min(w, area.x + area.width + kMargin),
              to = end / 2 * 2,
              first = std::min(from, mirrored(area.x + area.width + kMargin - 1, w)); // of those looked at
    for (int y = -kMargin; y < area.height + kMargin; ++y) {
        const int fy = mirrored(area.y + y, h);
        float *out = m_demosaic.samples(y);
        const uint16_t *codes = m_codes->row(fy, first, end);
        const auto scaleAt = [&](int x) {
            return float(m_gains[m.channel[m.cell(x, fy)]]) / (m.white - m.black[m.cell(x, fy)]);
        };
        const auto value = [&](int x) {
            return (float(codes[x - first]) - m.black[m.cell(x, fy)]) * scaleAt(x);
        };
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
        if (m_frame.flat)
            for (int x = -kMargin; x < area.width + kMargin; ++x) {
                const int fx = mirrored(area.x + x, w);
                out[x + kMargin] *= m_frame.flat->at(m.channel[m.cell(fx, fy)], fx + 0.5, fy + 0.5);
            }
    }
}

void FramePixels::fillPicture(const PixelArea &area, RgbRows &out) const
{
    for (int y = 0; y < area.height; ++y) {
        const size_t from = size_t(area.y + y) * size_t(m_frame.width) + size_t(area.x);
        float *rows[] = {out.red.data(), out.green.data(), out.blue.data()};
        for (size_t c = 0; c < 3; ++c) {
            float *row = rows[c] + size_t(y) * size_t(area.width);
            const auto gain = float(m_gains[c]);
            for (int x = 0; x < area.width; ++x)
                row[x] = m_frame.picture->value(from + size_t(x), c) * gain;
            if (m_frame.flat)
                for (int x = 0; x < area.width; ++x)
                    row[x] *= m_frame.flat->at(c, area.x + x + 0.5, area.y + y + 0.5);
        }
    }
}

void FramePixels::fillSteepness(const PixelArea &area, int y, size_t channel, float *out) const
{
    const float level = float(m_gains[channel]) * (m_frame.picture ? m_frame.picture->saturation : 1.0F);
    std::fill_n(out, area.width, 25 / level);
    if (m_frame.flat)
        for (int x = 0; x < area.width; ++x)
            out[x] /= m_frame.flat->at(channel, area.x + x + 0.5, area.y + y + 0.5);
}

void FramePixels::read(const PixelArea &area, RgbRows &out)
{
    out.width = area.width;
    out.height = area.height;
    const size_t count = size_t(area.width) * size_t(area.height);
    for (auto *channel : {&out.red, &out.green, &out.blue})
        channel->resize(count);
    const int beforeX = area.x & 1, beforeY = area.y & 1; // parts begin at whole filter cells
    const bool isEven = beforeX == 0 && area.width % 2 == 0;
    std::vector<float> rows[3], steepness[3];
    for (auto &row : steepness)
        row.resize(size_t(area.width));
    if (m_frame.picture)
        fillPicture(area, out);
    else {
        const PixelArea whole{area.x - beforeX, area.y - beforeY, (area.width + beforeX + 1) / 2 * 2,
                              (area.height + beforeY + 1) / 2 * 2};
        m_demosaic.begin(whole.width, whole.height, m_redX, m_redY);
        fillSamples(whole);
        m_demosaic.run();
        for (auto &row : rows)
            row.resize(size_t(whole.width));
    }
    for (int y = 0; y < area.height; ++y) {
        const size_t at = size_t(y) * size_t(area.width);
        float *targets[] = {out.red.data() + at, out.green.data() + at, out.blue.data() + at};
        if (m_frame.mosaic) {
            if (isEven)
                m_demosaic.colors(y + beforeY, targets[0], targets[1], targets[2]);
            else {
                m_demosaic.colors(y + beforeY, rows[0].data(), rows[1].data(), rows[2].data());
                for (size_t c = 0; c < 3; ++c)
                    std::copy_n(rows[c].data() + beforeX, area.width, targets[c]);
            }
        }
        if (y == 0 || m_frame.flat)
            for (size_t c = 0; c < 3; ++c)
                fillSteepness(area, y, c, steepness[c].data());
        bool isBurnt = false;
        for (size_t c = 0; c < 3; ++c)
            isBurnt = isBurnt || areBurnt(targets[c], steepness[c].data(), area.width);
        if (!isBurnt)
            continue;
        keepBurntNeutral(targets[0], targets[1], targets[2], steepness[0].data(), steepness[1].data(),
                         steepness[2].data(), area.width);
    }
}

} // namespace wavechroma
