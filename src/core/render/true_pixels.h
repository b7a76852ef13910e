#pragma once
#include "core/raw/raw_frame.h"

namespace wavechroma {

/// Can its pixels be shown one by one: an RGB picture, or a Bayer mosaic?
[[nodiscard]] bool hasTruePixels(const RawFrame &frame);

/// Camera RGB at every pixel of a part of a frame, by the same demosaic as finished pictures: an overview of
/// block 1, to be seen by lookOf(). Balanced meanwhile by the file's own neutral, so that another colour
/// needs it not again. Empty when stopped.
[[nodiscard]] Overview truePixelsOf(const RawFrame &frame, const PixelArea &area,
                                    const Progress &progress = {});

} // namespace wavechroma
