#pragma once
#include <cmath>
#include <cstdint>
#include <numbers>

namespace wavechroma::sim {

/// Small fast generator whose sequence is the same everywhere (SplitMix64, Steele, Lea and Flood 2014),
/// unlike the standard library's distributions.
class Random
{
public:
    explicit Random(uint64_t seed) : m_state(seed * 0x9E3779B97F4A7C15ULL + 0x1234567ULL) {}

    uint64_t next()
    {
        uint64_t z = (m_state += 0x9E3779B97F4A7C15ULL);
        z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9ULL;
        z = (z ^ (z >> 27)) * 0x94D049BB133111EBULL;
        return z ^ (z >> 31);
    }
    double unit() { return double(next() >> 11) * 0x1.0p-53; } ///< 0 included, 1 not
    double uniform(double from, double to) { return from + (to - from) * unit(); }
    int below(int count) { return int(next() % uint64_t(count)); }
    /// Mean 0, standard deviation 1 (Box and Muller 1958).
    double normal()
    {
        if (m_hasSpare) {
            m_hasSpare = false;
            return m_spare;
        }
        const double radius = std::sqrt(-2 * std::log(1 - unit())), angle = 2 * std::numbers::pi * unit();
        m_spare = radius * std::sin(angle);
        m_hasSpare = true;
        return radius * std::cos(angle);
    }

private:
    uint64_t m_state;
    double m_spare = 0;
    bool m_hasSpare = false;
};

} // namespace wavechroma::sim
