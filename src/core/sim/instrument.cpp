#include "core/sim/instrument.h"

#include "core/sim/random.h"
#include "core/sim/reflectance.h"

#include <algorithm>

namespace wavechroma::sim {

std::vector<Spectrum> measureChart(const ChartDefinition &chart, uint64_t seed)
{
    Random random(seed * 7919 + 3);
    const double bias = 1 + random.uniform(-0.005, 0.005);
    std::vector<Spectrum> out;
    for (const auto &truth : chartReflectances(chart)) {
        Spectrum s{380, 10, {}};
        for (double nm = 380; nm <= 730; nm += 10) {
            const double value = truth.at(nm);
            s.values.push_back(std::clamp(
                value * bias * (1 + 0.003 * random.normal()) + 0.0004 * random.normal(), 0.0, 1.0));
        }
        out.push_back(s);
    }
    return out;
}

} // namespace wavechroma::sim
