#pragma once
#include "core/raw/own_dng.h"
#include "core/raw/raw_frame.h"

namespace wavechroma::raw {

/// The visible area of a layout's samples behind a filter, with black and white levels. Where the file's
/// levels are more than a pattern of black and one white (LinearizationTable, BlackLevelDeltaH and V, large
/// patterns, floating point, opcodes that change values), light is stored anew as codes with black at 2048
/// and saturation at 65535: light below −0.03 is cut, and a step is 1/63487 of saturation.
[[nodiscard]] Mosaic mosaicOf(const DngLayout &layout, const std::shared_ptr<const OwnSamples> &samples);

/// Linearises samples without a colour filter.
[[nodiscard]] LinearPicture pictureOf(const DngLayout &layout, const OwnSamples &samples);

/// The factors of the layout's gain maps and vignettes, as one map over the visible area; null where there
/// are none. Unusable where a map covers a part of the picture only.
[[nodiscard]] Result<std::shared_ptr<const GainMap>> gainOf(const DngLayout &layout, const std::string &name);

} // namespace wavechroma::raw
