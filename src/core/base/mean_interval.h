#pragma once
#include <cstdint>
#include <functional>
#include <vector>

namespace wavechroma {

struct Interval
{
    double low = 0, high = 0;
    [[nodiscard]] bool holds(double value) const { return low <= value && value <= high; }
    bool operator==(const Interval &) const = default;
};

/// Small fast generator, the same everywhere (SplitMix64, Steele, Lea and Flood 2014): intervals have to come
/// out alike on every machine.
class Draws
{
public:
    explicit Draws(uint64_t seed) : m_state(seed) {}
    uint64_t next();
    [[nodiscard]] size_t below(size_t count) { return size_t(next() % count); }
    double normal(); ///< mean 0, standard deviation 1 (Box and Muller 1958)

private:
    uint64_t m_state;
    double m_spare = 0;
    bool m_hasSpare = false;
};

/// Values of one sample as another measurement of it would give them.
using RedrawnValues = std::function<std::vector<double>(Draws &)>;

/// Where the mean of the population that a sample stands for lies, with 95 % confidence: the sample drawn
/// again with replacement 1 000 times, each with the noise of a measurement of its own, and the expanded
/// percentiles of the means (Hesterberg 2015, "What teachers should know about the bootstrap", 5.3: small
/// samples have tails of Student's t), laid about the mean less what noise lifts it by (5.9: bias), which
/// another draw of the noise tells; it always holds the mean as measured. `values`: the sample as it was
/// measured, two at least, else the interval is the value itself; `again` gives as many.
[[nodiscard]] Interval meanInterval(const std::vector<double> &values, const RedrawnValues &again);

} // namespace wavechroma
