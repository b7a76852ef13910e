#pragma once
#include "core/color/colors.h"

namespace wavechroma {

struct Temperature
{
    double cctKelvin = 0; ///< correlated colour temperature, 1 000…100 000 K; the end of the range beyond it
    double duv =
        0; ///< signed distance from the Planckian locus in CIE 1960 u, v; positive is above (greener)
};

/// Correlated colour temperature and Duv as CIE 15:2004, 9.5 and Ohno 2013 (LEUKOS 10(1)) define them, found
/// by a golden-section search for the nearest point of the locus (exact to 0.01 K rather than the paper's
/// triangular and parabolic approximations). The locus is Planck's law summed with the CIE 1931 functions at
/// 5 nm.
[[nodiscard]] Temperature temperatureOf(const Chromaticity &xy);
/// The inverse: the chromaticity at that distance along the locus' normal.
[[nodiscard]] Chromaticity chromaticityFromTemperature(const Temperature &temperature);

} // namespace wavechroma
