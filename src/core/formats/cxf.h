#pragma once
#include "core/base/result.h"
#include "core/chart/chart_definition.h"
#include "core/color/colors.h"
#include "core/values/table_reading.h"

#include <string>
#include <utility>
#include <vector>

namespace wavechroma {

/// Is it XML with CxF3 (ISO 17972-1) in it?
[[nodiscard]] bool isCxf(const std::string &text);

/// Reference values by patch id from a CxF3 document (ISO 17972-1:2015): the objects' names with
/// ReflectanceSpectrum where all have one, else ColorCIELab, else ColorCIEXYZ (0…100); the light and the
/// observer of colours are those of their ColorSpecification. Ids match by name; "A01" is "A1". Unusable,
/// naming object and field, for broken XML, an object without such values, numbers that are none or too
/// many, two values of one kind in an object (measuring conditions M0 and M1, say), and as
/// withCgatsReferences() is. `how`: what it was taken for.
[[nodiscard]] Result<ChartDefinition> withCxfReferences(const ChartDefinition &chart, const std::string &text,
                                                        const std::string &name, TableReading *how = nullptr);
/// All objects with colours, D50, under their names, in the document's order.
[[nodiscard]] Result<std::vector<std::pair<std::string, Xyz>>>
cxfColours(const std::string &text, const std::string &name, TableReading *how = nullptr);

} // namespace wavechroma
