#pragma once
#include "core/base/result.h"
#include "core/values/reading.h"

#include <map>
#include <utility>
#include <vector>

namespace wavechroma {

/// A place in the frame, both −1…1 over all patches of a set.
struct SetPlace
{
    double u = 0, v = 0;
};

/// Several charts that stand in one frame, as one set of patches in one light.
struct ChartSet
{
    Reading reading; ///< the first chart's, with the others' patches; they are called "2:A1", "3:A1" …
    ChartDefinition chart;                  ///< likewise; neutrals are the first chart's
    std::map<std::string, SetPlace> places; ///< of each patch, by id
};

/// Readings of one frame, each with its chart and references; one that shows neutrals has to be the first.
/// Unusable for fewer than two, for other frames, cameras or flats, and for two in one place.
[[nodiscard]] Result<ChartSet> chartSet(const std::vector<std::pair<Reading, ChartDefinition>> &charts);

} // namespace wavechroma
