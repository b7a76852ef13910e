#pragma once
#include "core/fit/parts.h"

namespace wavechroma {

/// The part `roots`: square roots beside the matrix, for each of X, Y, Z
///   XYZ += root · (√(rg) − (r+g)/2, √(gb) − (g+b)/2, √(rb) − (r+b)/2)
/// which vanish for equal channels and keep a colour's ratio when the exposure changes (Finlayson, Mackiewicz
/// and Hurlbert 2015, IEEE TIP 24(5), degree 2, rewritten as differences). Nine numbers, row by row.
[[nodiscard]] const Bending &rootBending();
/// The three differences that a row's numbers multiply.
[[nodiscard]] Vector3 rootDifferences(const BalancedRgb &c);

/// Matrix and roots together by fitTerms(), eighteen numbers; behind tone curves, where the white has to stay
/// at (1, 1, 1), fifteen. A prior draws the roots towards none: ΔE² for a coefficient of 1, see
/// part_roots.cpp.
[[nodiscard]] std::optional<ColorModel> fitRootsPart(const PartFit &fit, const ColorModel &base);

} // namespace wavechroma
