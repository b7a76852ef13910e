#pragma once
#include "core/chart/chart_definition.h"

namespace wavechroma::testing {

/// The chart of 24 patches that comes first in the catalogue.
inline const ChartDefinition &classicChart()
{
    return chartCatalogue().front();
}

} // namespace wavechroma::testing
