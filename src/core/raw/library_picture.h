#pragma once
#include "core/base/result.h"
#include "core/raw/raw_frame.h"

namespace wavechroma {

/// A frame behind a filter that is not Bayer's with RGB at every pixel in place of its mosaic, by the raw
/// library's own demosaic for that filter. The file is read anew. Levels stay: 0 is black, 1 saturation; no
/// balance, no colour.
[[nodiscard]] Result<RawFrame> pictureByLibrary(const RawFrame &frame);

} // namespace wavechroma
