#pragma once
#include "core/color/rgb_space.h"

#include <map>
#include <optional>
#include <string>

namespace wavechroma {

/// The level that a neutral should have: an L*, or a code value in an output space.
struct ExposureAim
{
    double value = 0;
    double tolerance = 1;
    std::optional<RgbSpace> space; ///< absent: `value` and `tolerance` are L*; else codes of 0…255 in it
};

using ExposureAims = std::map<std::string, ExposureAim>; ///< by patch id

struct AimedNeutral
{
    std::string id;
    bool isCode = false;                     ///< in codes of an output space rather than L*
    double seen = 0, aim = 0, tolerance = 0; ///< in the aim's unit
    double stops = 0;                        ///< to bring it there: positive opens up
    bool usable = true, passes = false;
};

} // namespace wavechroma
