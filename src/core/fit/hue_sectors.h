#pragma once
#include "core/fit/calibration.h"

namespace wavechroma {

/// A calibration's correction for one sector of hue, beyond what white balance alone does.
struct HueSector
{
    double from = 0, to = 45; ///< hab in degrees
    double hueShift = 0;      ///< degrees, positive towards larger hab
    double chromaRatio = 1;
    double lightnessShift = 0; ///< L*
};

/// Eight equal sectors from hab 0°: means over surface colours of L* 30…80 and C*ab 15…50 that the `balance`
/// model would give, weighted by chroma for hue. A coarse picture of the calibration, for programs that take
/// nothing finer.
[[nodiscard]] std::vector<HueSector> hueSectorsOf(const Calibration &calibration);

} // namespace wavechroma
