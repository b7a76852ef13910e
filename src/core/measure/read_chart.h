#pragma once
#include "core/measure/find_chart.h"
#include "core/values/reading.h"

namespace wavechroma {

struct ReadOptions
{
    std::optional<Corners> corners; ///< placed by hand; absent: search
    double windowShare = 0.5;       ///< see SampleOptions
    bool chartWasNamed = false;     ///< the user asked for this very chart: see FindOptions
};

/// Frame + chart → reading, without its capture checks (see core/capture). A frame without the chart gives a
/// reading with `found` false; corners that form no quadrilateral, or lie outside the frame, are Unusable. A
/// chart of one patch has no pattern to search: `even-field` is the whole frame when it is one, any other the
/// largest plain grey area. A `grey-cube` is searched by its two faces, see findCube().
[[nodiscard]] Result<Reading> readChart(const RawFrame &frame, const ChartDefinition &chart,
                                        const ReadOptions &options = {}, const Progress &progress = {});

/// Reads the chart of the list whose colours fit best, which the reading names. If none is found: as above,
/// for the first of the list.
[[nodiscard]] Result<Reading> readAnyChart(const RawFrame &frame, std::span<const ChartDefinition> charts,
                                           double windowShare = 0.5, const Progress &progress = {});

/// Places the chart again on the same frame: patches follow, everything else of the reading stays. For
/// dragging.
[[nodiscard]] Result<Reading> placedAgain(const Reading &reading, const RawFrame &frame,
                                          const ChartDefinition &chart, const Corners &corners,
                                          double windowShare);

/// The chart of a reading: its own definition, else the catalogue's.
[[nodiscard]] Result<ChartDefinition> chartOf(const Reading &reading);

} // namespace wavechroma
