#pragma once
#include "core/raw/samples.h"

#include <cstddef>
#include <cstdint>
#include <vector>

namespace wavechroma {

/// Sensor samples behind a colour filter array, as the file holds them.
struct Mosaic
{
    Samples memory;                    ///< that they lie in; empty: in the file, which the frame keeps mapped
    const uint16_t *samples = nullptr; ///< top-left sample of the visible area
    ptrdiff_t rowStride = 0;           ///< samples from one row to the next
    int periodX = 2, periodY = 2;      ///< of the filter and black pattern, 1…16
    std::vector<uint8_t> channel;      ///< periodY × periodX: 0 R, 1 G, 2 B
    std::vector<float> black;          ///< periodY × periodX, in code values
    float white = 0;                   ///< code value of saturation
    bool isOfLibrary = true;           ///< the raw library reads the file alike, and so can demosaic it

    [[nodiscard]] size_t cell(int x, int y) const { return size_t((y % periodY) * periodX + x % periodX); }
    [[nodiscard]] uint16_t code(int x, int y) const { return samples[y * rowStride + x]; }
    /// 0 is black, 1 is saturation.
    [[nodiscard]] float value(int x, int y) const
    {
        const float b = black[cell(x, y)];
        return (float(code(x, y)) - b) / (white - b);
    }
};

} // namespace wavechroma
