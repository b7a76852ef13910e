#include "core/base/mean_interval.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <numeric>

namespace wavechroma {

uint64_t Draws::next()
{
    uint64_t z = (m_state += 0x9E3779B97F4A7C15ULL);
    z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9ULL;
    z = (z ^ (z >> 27)) * 0x94D049BB133111EBULL;
    return z ^ (z >> 31);
}

double Draws::normal()
{
    if (m_hasSpare) {
        m_hasSpare = false;
        return m_spare;
    }
    const auto unit = [this] { return (double(next() >> 11) + 0.5) * 0x1.0p-53; };
    const double radius = std::sqrt(-2 * std::log(unit())), angle = 2 * std::numbers::pi * unit();
    m_spare = radius * std::sin(angle);
    m_hasSpare = true;
    return radius * std::cos(angle);
}

namespace {

constexpr int kRounds = 1000;
constexpr double kZ = 1.959964; ///< 97.5 % of a normal distribution

/// 97.5 % of Student's t (Abramowitz and Stegun 1964, 26.7.5).
double studentT(double freedom)
{
    const double z = kZ, z3 = z * z * z, z5 = z3 * z * z, z7 = z5 * z * z;
    return z + (z3 + z) / (4 * freedom) + (5 * z5 + 16 * z3 + 3 * z) / (96 * freedom * freedom) +
           (3 * z7 + 19 * z5 + 17 * z3 - 15 * z) / (384 * freedom * freedom * freedom);
}

double meanOf(const std::vector<double> &values)
{
    return std::accumulate(values.begin(), values.end(), 0.0) / double(values.size());
}

} // namespace

Interval meanInterval(const std::vector<double> &values, const RedrawnValues &again)
{
    const size_t n = values.size();
    if (n < 2)
        return n == 0 ? Interval{} : Interval{values[0], values[0]};
    Draws draws(20150212);
    std::vector<double> means(kRounds);
    for (auto &mean : means) {
        const auto redrawn = again(draws);
        double sum = 0;
        for (size_t i = 0; i < n; ++i)
            sum += redrawn[draws.below(n)];
        mean = sum / double(n);
    }
    std::sort(means.begin(), means.end());
    const double middle = meanOf(means),
                 reach = std::sqrt(double(n) / double(n - 1)) * studentT(double(n - 1));
    const double tail = 0.5 * std::erfc(reach / std::numbers::sqrt2);
    const auto at = [&](double share) {
        const double place = share * (kRounds - 1);
        const size_t i = std::min(size_t(place), size_t(kRounds - 2));
        return means[i] + (place - double(i)) * (means[i + 1] - means[i]) - middle;
    };
    // What noise lifts a mean by once more, it has lifted it by before.
    const double mean = meanOf(values), unlifted = mean - (middle - mean);
    return {std::min(mean, unlifted + at(tail)), std::max(mean, unlifted + at(1 - tail))};
}

} // namespace wavechroma
