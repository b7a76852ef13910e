#pragma once
#include "core/raw/raw_frame.h"
#include "core/sim/expose.h"

namespace wavechroma::sim {

/// The frame as the raw reader would hand it over, without a file between. The samples move into the result.
[[nodiscard]] RawFrame rawFrameOf(SimFrame &&frame);

} // namespace wavechroma::sim
