#pragma once
#include "core/base/progress.h"
#include "core/chart/chart_geometry.h"
#include "core/raw/raw_frame.h"

#include <span>

namespace wavechroma {

struct ChartFind
{
    bool found = false;
    size_t chart = 0;        ///< which of the charts given
    bool coloursFit = false; ///< false: a grid of this layout whose colours are those of no such chart
    Corners corners{};
    LensShape lens;        ///< straight where the patches do not tell
    double confidence = 0; ///< 0…1
};

struct FindOptions
{
    /// Also answer with a grid of the layout whose colours do not fit (the chart was asked for by name).
    bool acceptWrongColours = false;
};

/// Searches the whole frame for the chart with no hint: any turn, perspective, light colour. "No chart" is an
/// answer. A placement counts when one 3×3 matrix explains the patches' colours; see identify.h.
[[nodiscard]] ChartFind findChart(const RawFrame &frame, const ChartDefinition &chart,
                                  const FindOptions &options = {}, const Progress &progress = {});

/// Finds the one of several charts whose colours fit best, `chart` being its index. At least one is given.
[[nodiscard]] ChartFind findAnyChart(const RawFrame &frame, std::span<const ChartDefinition> charts,
                                     const FindOptions &options = {}, const Progress &progress = {});

/// How well the patches' colours fit the chart, 0…1, for a chart placed by hand; 1 where the chart has no
/// pattern (unknown colours, or fewer than 6 patches).
[[nodiscard]] double placementFit(const RawFrame &frame, const ChartDefinition &chart,
                                  const Homography &homography);

/// Colour fit from which the colours are taken to be the chart's (wrong turns and wrong charts stay under
/// 0.8).
inline constexpr double kLeastColourFit = 0.90;

} // namespace wavechroma
