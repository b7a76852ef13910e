#pragma once
#include "core/raw/raw_frame.h"
#include "core/values/rendered_cost.h"

namespace wavechroma {

/// Returns what balancing a rendered picture costs, with the multipliers scaled so that the smallest is 1
/// and the exposure kept by the mean. Counted on an overview of at most 600 000 pixels. For raw frames all
/// shares are 0.
[[nodiscard]] RenderedCost costOfBalance(const RawFrame &frame, const Vector3 &multipliers);

} // namespace wavechroma
