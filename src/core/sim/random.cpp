#include "core/sim/random.h"

namespace wavechroma::sim {

namespace {

/// The value below which a normal deviate lies with probability `p`, by Newton's steps from `near`.
double quantile(double p, double near)
{
    for (int i = 0; i < 50; ++i) {
        const double density = std::exp(-0.5 * near * near) / std::sqrt(2 * std::numbers::pi);
        const double step = (0.5 * std::erfc(-near / std::numbers::sqrt2) - p) / density;
        near -= step;
        if (std::abs(step) < 1e-9)
            break;
    }
    return near;
}

} // namespace

const std::vector<float> &FastNormal::quantiles()
{
    static const auto table = [] {
        constexpr size_t kCount = 8192;
        std::vector<double> half(kCount / 2); // above the mean, from the middle outwards
        double squares = 0, near = 0;
        for (size_t i = 0; i < half.size(); ++i) {
            near = half[i] = quantile(0.5 + (double(i) + 0.5) / double(kCount), near);
            squares += 2 * near * near;
        }
        const double scale = std::sqrt(double(kCount) / squares);
        std::vector<float> out;
        for (const double v : half) {
            out.push_back(float(v * scale));
            out.push_back(float(-v * scale));
        }
        return out;
    }();
    return table;
}

} // namespace wavechroma::sim
