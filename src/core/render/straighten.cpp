#include "core/render/straighten.h"
#include "core/raw/overview.h"

#include <algorithm>
#include <cmath>

namespace wavechroma {

namespace {

/// Weights of four neighbours, the place being `share` beyond the second.
std::array<float, 4> cubic(float t)
{
    const float t2 = t * t, t3 = t2 * t;
    return {-0.5F * t3 + t2 - 0.5F * t, 1.5F * t3 - 2.5F * t2 + 1, -1.5F * t3 + 2 * t2 + 0.5F * t,
            0.5F * t3 - 0.5F * t2};
}

} // namespace

double enlargementBy(double distortion)
{
    double scale = 1; // of places: scale (1 + distortion scale²) = 1 in the corner
    for (int i = 0; distortion > 0 && i < 50; ++i)
        scale = 1 / (1 + distortion * scale * scale);
    return 1 / scale;
}

StraightPixels::StraightPixels(const RawFrame &frame, const Vector3 &gains, const Finish &finish,
                               double distortion, const FrameCut &cut)
    : m_frame(frame), m_pixels(frame, gains, finish),
      m_lens(LensShape::of(distortion, frame.width, frame.height)), m_cut(cut),
      m_shrink(1 / enlargementBy(distortion))
{
}

PixelPoint StraightPixels::sourceOf(double x, double y) const
{
    const auto &m = m_lens.middle;
    const auto p = m_cut.inFrame(x, y);
    return m_lens.bent({m.x + (p.x - m.x) * m_shrink, m.y + (p.y - m.y) * m_shrink});
}

PixelArea StraightPixels::sourceAreaOf(const PixelArea &area) const
{
    // The extremes of an area lie on its edges, which bend by far less than the margin between these points.
    constexpr int kPoints = 16;
    double left = 1e9, right = -1e9, top = 1e9, bottom = -1e9;
    const auto take = [&](double x, double y) {
        const auto p = sourceOf(x, y);
        left = std::min(left, p.x);
        right = std::max(right, p.x);
        top = std::min(top, p.y);
        bottom = std::max(bottom, p.y);
    };
    for (int i = 0; i <= kPoints; ++i) {
        const double x = area.x + double(area.width) * i / kPoints,
                     y = area.y + double(area.height) * i / kPoints;
        take(x, area.y);
        take(x, area.y + area.height);
        take(area.x, y);
        take(area.x + area.width, y);
    }
    const int x0 = std::clamp(int(left) - 4, 0, m_frame.width - 1),
              y0 = std::clamp(int(top) - 4, 0, m_frame.height - 1);
    const int x1 = std::clamp(int(right) + 5, x0 + 1, m_frame.width),
              y1 = std::clamp(int(bottom) + 5, y0 + 1, m_frame.height);
    return {x0, y0, x1 - x0, y1 - y0};
}

void StraightPixels::interpolate(const PixelArea &from, const PixelPoint &place, float *const rgb[3]) const
{
    const double px = std::clamp(place.x - 0.5, 0.0, m_frame.width - 1.0),
                 py = std::clamp(place.y - 0.5, 0.0, m_frame.height - 1.0);
    const int ix = int(px), iy = int(py);
    const auto wx = cubic(float(px - ix)), wy = cubic(float(py - iy));
    const std::vector<float> *sources[] = {&m_source.red, &m_source.green, &m_source.blue};
    for (size_t c = 0; c < 3; ++c) {
        float sum = 0;
        for (int j = 0; j < 4; ++j) {
            const int sy = std::clamp(iy + j - 1 - from.y, 0, from.height - 1);
            const float *row = sources[c]->data() + size_t(sy) * size_t(from.width);
            float line = 0;
            for (int i = 0; i < 4; ++i)
                line += wx[size_t(i)] * row[std::clamp(ix + i - 1 - from.x, 0, from.width - 1)];
            sum += wy[size_t(j)] * line;
        }
        *rgb[c] = sum;
    }
}

void StraightPixels::read(const PixelArea &area, const PixelRowUse &use)
{
    if (m_lens.distortion == 0 && !m_cut.isBetween)
        return m_pixels.read(
            {area.x + int(m_cut.from.x), area.y + int(m_cut.from.y), area.width, area.height}, use);
    const auto from = sourceAreaOf(area);
    m_pixels.read(from, m_source.taking(from));
    for (auto &row : m_rows)
        row.resize(size_t(area.width));
    for (int y = 0; y < area.height; ++y) {
        for (int x = 0; x < area.width; ++x) {
            float *rgb[] = {&m_rows[0][size_t(x)], &m_rows[1][size_t(x)], &m_rows[2][size_t(x)]};
            interpolate(from, sourceOf(area.x + x + 0.5, area.y + y + 0.5), rgb);
        }
        use(y, m_rows[0].data(), m_rows[1].data(), m_rows[2].data());
    }
}

} // namespace wavechroma
