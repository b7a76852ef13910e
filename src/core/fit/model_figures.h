#pragma once
#include "core/fit/calibration.h"

#include <functional>

namespace wavechroma {

/// Largest and smallest singular value of a mapping's derivative over the colours that surfaces have: L*
/// 15…95, C' up to 26 (C*ab 50), a lattice of 9 × 12 × 5 points in CompressedLab, without those of which a
/// channel sees less than 10 % of the strongest. 1 and 1 where nothing is stretched; a smallest of 0 or less:
/// it folds.
struct Stretch
{
    double most = 1, least = 1;
};
[[nodiscard]] Stretch stretchOf(const std::function<CompressedLab(const CompressedLab &)> &mapping);
/// Compares a model with a plain one of the same camera RGB (the fitted matrix), without curves: their tone
/// is meant. The lean counts.
[[nodiscard]] Stretch stretchOf(const ColorModel &model, const ColorModel &plain);

/// How much the matrix raises the noise of balanced camera RGB on the way to linear sRGB: the mean over R, G,
/// B of the rows' root sum of squares. 1 for a camera whose channels are sRGB's.
[[nodiscard]] double noiseGainOf(const Matrix3 &matrix);
/// Largest over smallest singular value of the matrix with its rows relative to the D50 white.
[[nodiscard]] double conditionOf(const Matrix3 &matrix);

} // namespace wavechroma
