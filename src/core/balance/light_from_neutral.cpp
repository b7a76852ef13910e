#include "core/balance/balance.h"

#include <cmath>

namespace wavechroma {

std::optional<Chromaticity> lightFromNeutral(const FileColor &color, const Vector3 &neutral)
{
    Chromaticity xy = chromaticityFromXyz(kD50White);
    for (int round = 0; round < 30; ++round) {
        const auto matrix = cameraFromXyzFor(color, xy);
        const auto back = matrix ? inverse(*matrix) : std::nullopt;
        if (!back)
            return std::nullopt;
        const Xyz white = xyzOf(*back * neutral);
        if (!(white.x > 0 && white.y > 0 && white.z > 0))
            return std::nullopt;
        const auto next = chromaticityFromXyz(white);
        const double change = std::abs(next.x - xy.x) + std::abs(next.y - xy.y);
        xy = next;
        if (change < 1e-7)
            break;
    }
    return xy;
}

} // namespace wavechroma
