#pragma once
#include "core/chart/chart_definition.h"
#include "core/values/table_reading.h"

#include <optional>
#include <string>

namespace wavechroma {

/// The chart to look for, as a shell names it: a catalogue id or a `wavechroma.chart/1` file, with the values
/// of a table or a chart file. Values alone find their layout: a chart file is one, a table's ids are those
/// of a chart of the catalogue or of a whole grid. Nothing where neither is given. Neutrals are those that
/// the values say. Unusable, naming file and reason, for what is not understood, and for another camera's
/// reading, which says nothing of the chart. `how`: what a table was taken for.
[[nodiscard]] Result<std::optional<ChartDefinition>>
chartAsked(const std::string &chart, const std::string &reference, TableReading *how = nullptr);

} // namespace wavechroma
