#pragma once
#include "core/chart/chart_geometry.h"
#include "core/raw/raw_frame.h"

#include <optional>

namespace wavechroma::measure {

/// The largest plain, neutral, four-sided area of the frame: a grey card, seen in perspective. Neutral is
/// judged by the file's as-shot neutral, give or take a third, where the file has one. Corners start at the
/// top left of the upright picture; a plain card does not tell which way up it is held. Nothing when there is
/// no such area of at least a seventieth of the frame, or it is darker than any grey beside the frame's
/// bright end.
[[nodiscard]] std::optional<Corners> findPlainArea(const RawFrame &frame);

} // namespace wavechroma::measure
