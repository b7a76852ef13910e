#pragma once
#include "core/fit/parts.h"

namespace wavechroma {

/// Camera RGB → XYZ D50 without white balance or scale: XYZ = A · RGB.
struct LinearModel
{
    Matrix3 xyzFromCamera;
};

/// The A with the least weighted mean CIEDE2000 over the patches (see fit_terms.h), from a weighted
/// least-squares start in XYZ. `start`, where given, replaces the first step (used with one patch left out).
/// Needs at least 4 patches whose RGB span three dimensions; nothing otherwise.
[[nodiscard]] std::optional<LinearModel> fitLinear(const std::vector<FittedPatch> &patches,
                                                   const LinearModel *start = nullptr);

/// Plain weighted least squares in XYZ, the start of the above, for comparison.
[[nodiscard]] std::optional<LinearModel> fitLeastSquares(const std::vector<FittedPatch> &patches);

[[nodiscard]] double meanDe2000(const std::vector<FittedPatch> &patches, const LinearModel &model);
[[nodiscard]] double de2000Of(const FittedPatch &patch, const LinearModel &model);

/// The split into multipliers (green 1), scale and a matrix that takes (1, 1, 1) to the D50 white. Nothing
/// when A is singular or a neutral would need a negative channel.
[[nodiscard]] std::optional<ColorModel> splitAtWhite(const LinearModel &model);
[[nodiscard]] LinearModel joined(const Vector3 &multipliers, double exposureScale, const Matrix3 &matrix);

/// The part `matrix`: the general 3×3 A = matrix · diag(multipliers) · scale that has the least mean
/// CIEDE2000. Any A splits uniquely into a matrix that takes (1,1,1) to the D50 white, multipliers with green
/// 1 and a scale, so white is preserved exactly and the multipliers come from all patches.
[[nodiscard]] std::optional<ColorModel> fitMatrixPart(const PartFit &fit, const ColorModel &base);

} // namespace wavechroma
