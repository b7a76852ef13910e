#pragma once
#include "core/base/matrix3.h"
#include "core/color/temperature.h"

#include <string>

namespace wavechroma {

/// A light by name, and the multipliers that make it neutral on a camera.
struct LadderRung
{
    std::string name;
    Temperature light;
    Vector3 multipliers{1, 1, 1};
};

} // namespace wavechroma
