#pragma once
#include "core/fit/fit_matrix.h"

namespace wavechroma {

/// The `matrix-offset` model: a 3×3 and one veil (or too much taken off) of the light's own colour, ten
/// numbers by fitTerms(). The veil has a weak prior of 2 % about 0, so that 24 patches do not find one where
/// there is none. `base` is the matrix fitted to the same patches, or, with `near`, this model fitted to
/// nearly the same ones. Nothing where the result is singular.
[[nodiscard]] std::optional<ColorModel> fitOffset(const std::vector<FittedPatch> &patches,
                                                  const ColorModel &base, bool near = false);

} // namespace wavechroma
