#pragma once
#include "core/base/result.h"
#include "core/values/reading.h"

namespace wavechroma {

/// Several readings of one chart in one light (a bracket, repeats) as one: each is brought to the first one's
/// exposure by the median of its patches' green, and a patch is the mean of its readings weighted by what
/// their noise leaves of doubt in it. Clipped, sunk and switched-off patches of one reading leave the others
/// to speak. The first lends everything else. Unusable when chart or camera and lens differ, or a reading
/// found no chart.
[[nodiscard]] Result<Reading> mergedReading(const std::vector<Reading> &readings);

} // namespace wavechroma
