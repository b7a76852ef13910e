#pragma once
#include "core/formats/whole_file.h"

namespace wavechroma {

/// Packs one plane of samples as lossless JPEG (ITU-T T.81 annex H, process 14, predictor 1), as DNG stores
/// raw frames: neighbouring samples form two components, so the stated width is half the real one. `width` is
/// even; `bits` is the precision, 2…16. Needed because Debian's JPEG library writes only the lossy processes.
[[nodiscard]] Bytes losslessJpeg(std::span<const uint16_t> samples, int width, int height, int bits);

} // namespace wavechroma
