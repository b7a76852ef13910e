#pragma once
#include "core/chart/chart_definition.h"
#include "core/formats/json_fields.h"

namespace wavechroma::json {

[[nodiscard]] Json jsonOf(const ChartDefinition &chart);
/// Throws FieldFault also for a definition that does not hang together.
[[nodiscard]] ChartDefinition definitionFrom(const Fields &fields);

} // namespace wavechroma::json
