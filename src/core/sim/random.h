#pragma once
#include <cmath>
#include <cstdint>
#include <numbers>
#include <vector>

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

/// Normal deviates for millions of pixels: each is one of 8 192 quantiles of the normal distribution (to 3.8
/// standard deviations), four to a step of the generator. Mean 0 and standard deviation 1 exactly.
class FastNormal
{
public:
    /// Seeds that follow each other give streams that have nothing to do with each other (the plain
    /// generator's would be one stream, shifted by a step).
    explicit FastNormal(uint64_t seed) : m_random(Random(seed).next()), m_table(quantiles()) {}
    float next()
    {
        if (m_left == 0) {
            m_bits = m_random.next();
            m_left = 4;
        }
        --m_left;
        const auto at = size_t(m_bits & 0x1FFF);
        m_bits >>= 16; // the table stays in the nearest cache
        return m_table[at];
    }

private:
    static const std::vector<float> &quantiles(); ///< made once
    Random m_random;
    const std::vector<float> &m_table;
    uint64_t m_bits = 0;
    int m_left = 0;
};

} // namespace wavechroma::sim
