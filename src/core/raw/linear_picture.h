#pragma once
#include "core/raw/samples.h"

#include <array>
#include <cstddef>
#include <vector>

namespace wavechroma {

/// Light of a rendered picture or of a raw file without a mosaic: codes as the file has them, and what light
/// each stands for. Two bytes a sample rather than four, and nothing is lost.
struct LinearPicture
{
    size_t channels = 3;                     ///< 1: grey, which all three colours have
    Samples codes;                           ///< interleaved, row by row
    std::array<std::vector<float>, 3> light; ///< per colour and code, 0…1; as long as the codes ask for
    float saturation = 1;                    ///< the smallest light that stands for a clipped sample

    /// Linear red, green or blue (0, 1, 2) of a pixel, counted row by row.
    [[nodiscard]] float value(size_t pixel, size_t colour) const
    {
        return light[colour][codes[channels == 3 ? 3 * pixel + colour : pixel]];
    }
};

} // namespace wavechroma
