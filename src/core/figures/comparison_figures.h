#pragma once
#include "core/chart/chart_definition.h"
#include "core/figures/figure.h"
#include "core/values/comparison.h"

namespace wavechroma {

/// The chart laid out flat, each patch split: A on the left, B on the right; seamless means the same.
[[nodiscard]] Figure splitChart(const Comparison &comparison, const ChartDefinition &chart, double width);
/// L*, a* and b* of B less A along the tone scale, dark to light.
[[nodiscard]] Figure greyShift(const Comparison &comparison, double width, double height);
/// Of the eight hue sectors: chroma (full) and hue (open, degrees) of B less A.
[[nodiscard]] Figure sectorShift(const Comparison &comparison, double width, double height);

} // namespace wavechroma
