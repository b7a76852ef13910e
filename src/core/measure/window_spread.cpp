#include "core/measure/window_spread.h"
#include "core/raw/overview.h"

#include <algorithm>
#include <cmath>

namespace wavechroma::measure {

static constexpr double kMost = 0.05;

WindowSpread::WindowSpread(const RawFrame &frame, const ChartDefinition &chart, const Homography &rough)
    : m_chart(chart)
{
    const double pitch = pitchPixels(chart, rough);
    double left = 1e9, right = -1e9, top = 1e9, bottom = -1e9;
    for (const auto &p : cornersFrom(chart, rough)) {
        left = std::min(left, p.x - 2 * pitch);
        right = std::max(right, p.x + 2 * pitch);
        top = std::min(top, p.y - 2 * pitch);
        bottom = std::max(bottom, p.y + 2 * pitch);
    }
    const auto inside = [](double v, int size) { return int(std::clamp(v, 0.0, double(size))); };
    m_area = {inside(left, frame.width), inside(top, frame.height), 0, 0};
    m_area.width = inside(right, frame.width) - m_area.x;
    m_area.height = inside(bottom, frame.height) - m_area.y;
    m_picture = overviewOf(frame, std::max(1, int(pitch / 40)), m_area);
}

double WindowSpread::at(const Homography &place) const
{
    constexpr int kSide = 5;
    double sum = 0;
    for (int row = 0; row < m_chart.rows; ++row)
        for (int column = 0; column < m_chart.columns; ++column) {
            const auto centre = patchCentre(m_chart, row, column), size = patchSize(m_chart, row, column);
            Vector3 total{}, squares{};
            bool outside = false;
            for (int k = 0; k < kSide * kSide && !outside; ++k) {
                const double u = (k % kSide - 2) * 0.21, v = (k / kSide - 2) * 0.21;
                const auto p = place.at({centre.x + u * size.x, centre.y + v * size.y});
                const double x = (p.x - m_area.x) / m_picture.block, y = (p.y - m_area.y) / m_picture.block;
                outside = !(x >= 0 && y >= 0 && x < m_picture.width && y < m_picture.height);
                if (outside)
                    break;
                const float *rgb = &m_picture.rgb[(size_t(y) * size_t(m_picture.width) + size_t(x)) * 3];
                for (size_t c = 0; c < 3; ++c) {
                    total[c] += double(rgb[c]);
                    squares[c] += double(rgb[c]) * double(rgb[c]);
                }
            }
            double spread = 0;
            for (size_t c = 0; c < 3; ++c) {
                const double mean = total[c] / (kSide * kSide),
                             variance = squares[c] / (kSide * kSide) - mean * mean;
                spread += std::max(0.0, variance) / (mean * mean + 1e-6) / 3;
            }
            sum += outside ? kMost : std::min(kMost, spread);
        }
    return sum / (m_chart.rows * m_chart.columns);
}

} // namespace wavechroma::measure
