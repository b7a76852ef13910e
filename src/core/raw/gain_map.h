#pragma once
#include <algorithm>
#include <array>
#include <string>
#include <vector>

namespace wavechroma {

/// What every sample of a frame is multiplied by to take out the light's falloff and the lens' cast: per
/// channel, 1 at the brightest spot, larger elsewhere. Values on a coarse grid over the visible raw area,
/// bilinear between. Gains that a frame file brings are as it says: they need not be 1 anywhere.
struct GainMap
{
    std::string source;        ///< the flat frame's path; empty: the frame file's own gains
    int width = 0, height = 0; ///< of the frames it fits
    int columns = 0, rows = 0; ///< grid points; the first and last lie on the frame's edges
    std::array<std::vector<float>, 3> gain;

    /// Returns the gain at pixel coordinates (contract: the first pixel's centre is 0.5, 0.5).
    [[nodiscard]] float at(size_t channel, double x, double y) const
    {
        const double gx = std::clamp(x / width, 0.0, 1.0) * (columns - 1),
                     gy = std::clamp(y / height, 0.0, 1.0) * (rows - 1);
        const int ix = std::min(int(gx), columns - 2), iy = std::min(int(gy), rows - 2);
        const auto fx = float(gx - ix), fy = float(gy - iy);
        const float *upper = gain[channel].data() + size_t(iy) * size_t(columns) + size_t(ix),
                    *lower = upper + columns;
        return (upper[0] * (1 - fx) + upper[1] * fx) * (1 - fy) + (lower[0] * (1 - fx) + lower[1] * fx) * fy;
    }
};

} // namespace wavechroma
