#pragma once
#include "core/chart/chart_definition.h"

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

namespace wavechroma::sim {

/// The simulated spectrophotometer: 380…730 nm by 10 nm, as hand-held ones give it. Each value scatters by
/// 0.3 % of itself and 0.0004, and the whole instrument reads up to 0.5 % high or low, all of it from the
/// seed. Patches in the chart's order.
[[nodiscard]] std::vector<Spectrum> measureChart(const ChartDefinition &chart, uint64_t seed);

/// A yarn of the dye house, wound flat; nothing for a name that it has no yarn of.
[[nodiscard]] std::optional<Spectrum> measureYarn(const std::string &name, uint64_t seed);

} // namespace wavechroma::sim
