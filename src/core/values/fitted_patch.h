#pragma once
#include "core/color/colors.h"

#include <optional>
#include <string>

namespace wavechroma {

/// A patch that took part in a fit: what the camera saw and what it should be.
struct FittedPatch
{
    std::string id;
    CameraRgb rgb;
    Xyz reference;                  ///< D50
    double weight = 1;              ///< in the fit; above 0
    CameraRgb sd = {};              ///< of the mean itself: what the reading's noise leaves of doubt in `rgb`
    std::optional<Xyz> unseen = {}; ///< as the model made without it has it; absent: not judged
    bool operator==(const FittedPatch &) const = default;
};

} // namespace wavechroma
