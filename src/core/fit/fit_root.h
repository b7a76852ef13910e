#pragma once
#include "core/fit/fit_matrix.h"

namespace wavechroma {

/// The `root-polynomial` model: a 3×3 and three square roots for each of X, Y, Z (see ColorModel), eighteen
/// numbers by fitTerms(). `ridge` draws the roots' part towards none: ΔE² per patch for a coefficient of 1.
/// `base` is the matrix fitted to the same patches, or, with `near`, this model fitted to nearly the same
/// ones.
[[nodiscard]] std::optional<ColorModel> fitRoot(const std::vector<FittedPatch> &patches,
                                                const ColorModel &base, double ridge, bool near = false);

} // namespace wavechroma
