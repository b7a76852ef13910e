#include "core/render/lanczos.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <utility>

namespace wavechroma {

namespace {

double lanczos3(double x)
{
    if (std::abs(x) < 1e-9)
        return 1;
    if (std::abs(x) >= 3)
        return 0;
    const double p = std::numbers::pi * x;
    return 3 * std::sin(p) * std::sin(p / 3) / (p * p);
}

} // namespace

LanczosTaps::LanczosTaps(int from, int to) : m_from(from)
{
    const double step = double(from) / to;
    for (int i = 0; i < to; ++i) {
        if (from == to) { // the window has its zeros at all neighbours
            m_taps.push_back({i, {1}});
            continue;
        }
        const double centre = (i + 0.5) * step - 0.5;
        Taps taps;
        taps.first = int(std::ceil(centre - 3 * step));
        const int last = int(std::floor(centre + 3 * step));
        double sum = 0;
        std::vector<double> weights;
        for (int x = taps.first; x <= last; ++x)
            sum += weights.emplace_back(lanczos3((x - centre) / step));
        for (const double w : weights)
            taps.weights.push_back(float(w / sum));
        m_taps.push_back(std::move(taps));
    }
}

void LanczosTaps::reduce(const float *in, float *out) const
{
    for (size_t i = 0; i < m_taps.size(); ++i) {
        const auto &taps = m_taps[i];
        const int n = int(taps.weights.size());
        float sum = 0;
        if (taps.first >= 0 && taps.first + n <= m_from)
            for (int k = 0; k < n; ++k)
                sum += taps.weights[size_t(k)] * in[taps.first + k];
        else
            for (int k = 0; k < n; ++k)
                sum += taps.weights[size_t(k)] * in[std::clamp(taps.first + k, 0, m_from - 1)];
        out[i] = sum;
    }
}

void RowReducer::push(const float *row, const Out &out)
{
    m_rows.emplace_back(row, row + m_values);
    ++m_next;
    while (m_done < m_taps.count()) {
        const auto &taps = m_taps.of(m_done);
        const int last = std::min(taps.first + int(taps.weights.size()) - 1, m_from - 1);
        if (last >= m_next)
            break;
        m_sum.assign(size_t(m_values), 0);
        for (size_t k = 0; k < taps.weights.size(); ++k) {
            const int at = std::clamp(taps.first + int(k), 0, m_from - 1);
            const auto &values = m_rows[size_t(at - m_kept)];
            const float weight = taps.weights[k];
            for (size_t x = 0; x < values.size(); ++x)
                m_sum[x] += weight * values[x];
        }
        out(m_done++, m_sum.data());
    }
    if (m_done < m_taps.count())
        for (const int needed = std::max(0, m_taps.of(m_done).first); m_kept < needed && !m_rows.empty();
             ++m_kept)
            m_rows.erase(m_rows.begin());
}

} // namespace wavechroma
