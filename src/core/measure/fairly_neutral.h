#pragma once
#include "core/color/temperature.h"
#include "core/raw/raw_frame.h"

#include <array>
#include <optional>
#include <vector>

namespace wavechroma::measure {

/// A place of a frame without a target that may stand for a neutral.
struct FairlyNeutral
{
    std::array<double, 4> area{};     ///< x, y, width, height in frame pixels
    double share = 0;                 ///< of the frame's plain places, those of its colour
    std::optional<Temperature> light; ///< that it would mean; nothing where the file has no matrix
    std::optional<double> mired; ///< of that from what the camera took for white, positive to warmer light
};

/// At most three, the best first: plain places (a 24th of the long side, of one level and colour, not
/// clipped, not dark) whose colour a lamp could give a grey (|Duv| up to 0.012, 2 300 to 10 000 K), together
/// with all of that colour; a large share and a light near what the camera took for white go before. That a
/// thing is grey nothing can tell: somebody has to look. None where no place is like that.
[[nodiscard]] std::vector<FairlyNeutral> fairlyNeutral(const RawFrame &frame);

} // namespace wavechroma::measure
