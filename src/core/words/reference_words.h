#pragma once
#include "core/base/filled.h"
#include "core/chart/chart_definition.h"
#include "core/color/colors.h"
#include "core/values/table_reading.h"

namespace wavechroma::words {

/// One line that says what a table was taken for, with its first colours beside the chart's usual ones, so
/// that a wrong reading of it is seen. Empty where the file was no table.
[[nodiscard]] Phrase tableRead(const std::string &file, const TableReading &how, const ChartDefinition &read,
                               const ChartDefinition &usual);
/// Says the same of targets, which have no usual colours.
[[nodiscard]] Phrase tableRead(const std::string &file, const TableReading &how,
                               const std::vector<std::pair<std::string, Lab>> &colours);

} // namespace wavechroma::words
