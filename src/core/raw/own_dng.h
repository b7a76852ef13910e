#pragma once
#include "core/raw/dng_layout.h"
#include "core/raw/samples.h"

#include <memory>

namespace wavechroma::raw {

/// The whole raw area of a DNG file, margins too, as stored: nothing of its levels is applied.
struct OwnSamples
{
    Samples unpacked;                  ///< empty where the file itself is read, or where there are `numbers`
    const uint16_t *samples = nullptr; ///< top left, samples of a pixel side by side; null: see `numbers`
    ptrdiff_t rowStride = 0;           ///< in samples
    std::vector<float> numbers;        ///< of floating point and of whole numbers above 16 bits; no margins
                                       ///< beside rows
    bool isDamaged = false;            ///< it ends early, or holds values that cannot be

    [[nodiscard]] double at(size_t x, size_t y, size_t sample, size_t samplesPerPixel) const
    {
        const size_t place = y * size_t(rowStride) + x * samplesPerPixel + sample;
        return samples ? double(samples[place]) : double(numbers[place]);
    }
};

/// Unpacks whole numbers of 8 to 16 and of 32 bits and floating point of 16, 24 and 32 bits, plain, as
/// deflate, or as lossless JPEG, in strips or tiles, in either byte order. Null for any other packing.
/// Strips and tiles are unpacked side by side. `layout.pieces` must stay in memory while the samples are
/// used; a mosaic of 16 bits in one strip is not copied.
[[nodiscard]] std::shared_ptr<const OwnSamples> ownSamplesOf(const DngLayout &layout);

/// May the raw library unpack what ownSamplesOf() does not? It ignores a lossless JPEG's point transform, and
/// takes the first of several strips for all.
[[nodiscard]] bool isSafeForLibrary(const DngLayout &layout);

} // namespace wavechroma::raw
