#pragma once
#include "core/chart/chart_definition.h"

#include <map>

namespace wavechroma {

/// Reference values read from a table, by patch id. "A01", "a1" and "A1" are the same.
class ReferenceRows
{
public:
    explicit ReferenceRows(std::string file) : m_file(std::move(file)) {}
    /// Spectra in per cent are made 0…1 and integrated under D50. Unusable for an empty or repeated id, and
    /// for a spectrum that no surface has. `line` 0: not known.
    Result<Done> add(const std::string &id, ChartPatch patch, int line);
    /// Unusable when a patch of the chart has no value, or a value is for a place that the chart does not
    /// have: then it is another chart's.
    [[nodiscard]] Result<ChartDefinition> putInto(const ChartDefinition &chart) const;

private:
    std::string m_file;
    std::map<std::string, ChartPatch> m_patches;
};

/// Why these cannot be the L*, a*, b* of a surface; empty when they can.
[[nodiscard]] words::Phrase labFault(double l, double a, double b);

} // namespace wavechroma
