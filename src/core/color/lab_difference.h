#pragma once
#include "core/color/colors.h"

namespace wavechroma {

/// CIE 1976 ΔE*ab: the Euclidean distance in Lab (CIE 15:2004, eq. 8.21).
[[nodiscard]] double de76(const Lab &sample, const Lab &reference);
/// CIE 1994 ΔE for graphic arts, kL = 1, K1 = 0.045, K2 = 0.015 (CIE 116-1995). Not symmetric: the weights
/// are the reference's.
[[nodiscard]] double de94(const Lab &sample, const Lab &reference);
/// The same for textiles: kL = 2, K1 = 0.048, K2 = 0.014.
[[nodiscard]] double de94Textiles(const Lab &sample, const Lab &reference);

/// result − reference in CIE 1976 terms; dH is signed as the hue angle turns.
struct LchDifference
{
    double dL = 0, dC = 0, dH = 0;
};
[[nodiscard]] LchDifference lchDifference(const Lab &result, const Lab &reference);

} // namespace wavechroma
