#pragma once
#include "core/base/result.h"
#include "core/chart/chart_definition.h"

#include <map>

namespace wavechroma {

using Weights = std::map<std::string, double>; ///< by patch id; 1 where absent

/// How much a favoured patch counts against an ordinary one.
inline constexpr double kFavoured = 4;

/// "even": none; "neutrals": the chart's neutrals; "skin": patches with hab 25…75°, C*ab 10…45, L* 30…85.
[[nodiscard]] Result<Weights> presetWeights(const std::string &preset, const ChartDefinition &chart);
/// Patches count more the nearer they are to one of some colours, a product's own: 1 + 3 exp(−½ (ΔE2000/8)²).
[[nodiscard]] Weights weightsNear(const ChartDefinition &chart, const std::vector<Lab> &colours);
/// A preset's name, "D1=4,C3=0.5", or colours as "near:52,40,20;30,5,-12" (L*, a*, b*; see weightsNear()).
/// Unusable for unknown names and patches, and weights that are not above 0.
[[nodiscard]] Result<Weights> weightsFrom(const std::string &text, const ChartDefinition &chart);

} // namespace wavechroma
