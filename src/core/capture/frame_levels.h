#pragma once
#include "core/base/progress.h"
#include "core/raw/raw_frame.h"
#include "core/values/frame_levels.h"

#include <optional>

namespace wavechroma {

/// A frame smaller than a cell gives no cells. Nothing is computed further once stopped.
[[nodiscard]] FrameLevels frameLevels(const RawFrame &frame, const Progress &progress = {});

/// Over the square of 2 · reach + 1 pixels, clipped to the frame; nothing outside of it.
[[nodiscard]] std::optional<FrameValue> valueAt(const RawFrame &frame, double x, double y, int reach = 4);

} // namespace wavechroma
