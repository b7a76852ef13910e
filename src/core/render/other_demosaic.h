#pragma once
#include "core/base/progress.h"
#include "core/raw/raw_frame.h"

namespace wavechroma {

/// RGB at every pixel of a mosaic behind any filter of red, green and blue, from its own samples: green by
/// Gaussian-weighted means of the green photosites around (normalised convolution, Knutsson and Westin 1993),
/// red and blue by the same means of their difference to green, which change slower than colours do. A
/// photosite keeps its own sample. Softer than a demosaic made for one filter; flat areas and levels are
/// exact. 0 is black, 1 is saturation; no balance, no colour. Null when stopped.
[[nodiscard]] std::shared_ptr<const LinearPicture> demosaicedByMeans(const RawFrame &frame,
                                                                     const Progress &progress = {});

} // namespace wavechroma
