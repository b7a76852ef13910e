#pragma once
#include "core/balance/balance.h"
#include "core/fit/fit_matrix.h"

namespace wavechroma {

/// The matrix of the part `balance`: balanced camera RGB → XYZ D50 by the raw file's own matrix for that
/// neutral, adapted to D50 by Bradford and scaled so that (1, 1, 1) gives the white; a rendered picture's own
/// primaries; linear sRGB ones when the file says nothing.
[[nodiscard]] Matrix3 fileMatrix(const FileColor &color, const Vector3 &neutral);

/// Multipliers and scale from the neutral patches: a weighted mean in log space of what each asks for, where
/// a patch's weight is highest at L* 65 and falls to a tenth at L* 20 and 95 (dark greys are noisy, whites
/// near clipping). Also allows for the references not being quite neutral. With fewer than one usable
/// neutral: nothing.
[[nodiscard]] std::optional<ColorModel> fitBalance(const std::vector<FittedPatch> &neutrals,
                                                   const FileColor &color);
/// The part `balance`: that of the neutrals among the patches.
[[nodiscard]] std::optional<ColorModel> fitBalancePart(const PartFit &fit, const ColorModel &base);

} // namespace wavechroma
