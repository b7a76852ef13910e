#pragma once
#include "core/chart/chart_geometry.h"
#include "core/raw/raw_frame.h"
#include "core/values/reading.h"

#include <vector>

namespace wavechroma::measure {

/// What the picture itself shows of things that lie on a patch, whatever its colour: one number a patch, in
/// the chart's order, 1 and more where there is a sign. It is the larger of two, each over its limit:
///   – unevenness: the furthest of 5 × 5 cells over 76 % of the patch's sides from their median, relative to
///   the
///     patch's level with a floor of 4 % of the lightest patch; against 3 %, five deviations of the noise,
///     and three times what the chart's patches show in the median (paint and paper have a texture);
///   – the strips between it and its neighbours in the same panel: how far they are from what all strips of
///   the chart
///     say, with the light's slope and what the patches beside them spill; against 1.5 % of the lightest
///     patch and six robust deviations. Charts without gaps, or with fewer than 12 of them, are judged by the
///     first alone.
/// `patches`: the readings of the same placement.
[[nodiscard]] std::vector<double> patchSigns(const RawFrame &frame, const ChartDefinition &chart,
                                             const Homography &place,
                                             const std::vector<PatchReading> &patches);

} // namespace wavechroma::measure
