#include "core/sim/instrument.h"

#include "core/sim/random.h"
#include "core/sim/reflectance.h"

#include <algorithm>

namespace wavechroma::sim {

/// One reading of the instrument.
static Spectrum measured(const Spectrum &truth, double bias, Random &random)
{
    Spectrum s{380, 10, {}};
    for (double nm = 380; nm <= 730; nm += 10) {
        const double value = truth.at(nm);
        s.values.push_back(
            std::clamp(value * bias * (1 + 0.003 * random.normal()) + 0.0004 * random.normal(), 0.0, 1.0));
    }
    return s;
}

std::vector<Spectrum> measureChart(const ChartDefinition &chart, uint64_t seed)
{
    Random random(seed * 7919 + 3);
    const double bias = 1 + random.uniform(-0.005, 0.005);
    std::vector<Spectrum> out;
    for (const auto &truth : chartReflectances(chart))
        out.push_back(measured(truth, bias, random));
    return out;
}

std::optional<Spectrum> measureYarn(const std::string &name, uint64_t seed)
{
    Random random(seed * 7919 + 5);
    const double bias = 1 + random.uniform(-0.005, 0.005);
    for (const auto &yarn : yarns())
        if (yarn.name == name)
            return measured(yarn.reflectance, bias, random);
    return std::nullopt;
}

} // namespace wavechroma::sim
