#pragma once
#include "core/raw/samples.h"

#include <cstdint>
#include <memory>
#include <optional>
#include <span>
#include <vector>

namespace wavechroma::raw {

/// The whole raw area of a DNG file, margins too.
struct OwnSamples
{
    Samples unpacked;                  ///< empty where the file itself is read
    const uint16_t *samples = nullptr; ///< top left
    ptrdiff_t rowStride = 0;           ///< in samples
    bool isDamaged = false;            ///< it ends early, or holds values that cannot be
};

/// Does a strip or tile of the picture of that size begin where the file has ended? The raw library takes
/// what is not there for black where it is lossless JPEG.
[[nodiscard]] bool endsBeforeItsPicture(std::span<const uint8_t> file, int width, int height);

/// Reads what is usual in DNG files (Digital Negative Specification 1.4.0.0): one mosaic of 8 to 16 bits a
/// sample, unpacked or as lossless JPEG, in strips or tiles, in either byte order and without a
/// linearisation table. Nothing for anything else, which is left to the raw library; what is read is equal to
/// what that gives, to the last bit, but for what it misreads: it takes the first of several strips only, and
/// a tile that is wider than the picture askew. `width` and `height`: of the raw area, as the library names
/// it. `file` has to stay as long as the samples are used. Strips and tiles are unpacked side by side.
[[nodiscard]] std::shared_ptr<const OwnSamples> ownSamplesOf(std::span<const uint8_t> file, int width,
                                                             int height);

} // namespace wavechroma::raw
