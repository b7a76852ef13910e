#pragma once
#include "core/color/colors.h"

namespace wavechroma {

/// CIE 15:2004, 8.2.1: CIE 1976 L*a*b*, with the linear branch below (6/29)³. Never fails; negative XYZ
/// (outside the spectral locus, as a matrix may produce) follow the linear branch.
[[nodiscard]] Lab labFromXyz(const Xyz &color, const Xyz &white = kD50White);
[[nodiscard]] Xyz xyzFromLab(const Lab &color, const Xyz &white = kD50White);
[[nodiscard]] Lch lchFromLab(const Lab &color);
[[nodiscard]] Lab labFromLch(const Lch &color);

} // namespace wavechroma
