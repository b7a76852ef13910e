#pragma once
#include "core/color/colors.h"
#include "core/fit/colour_lean.h"
#include "core/values/color_model.h"

#include <vector>

namespace wavechroma {

/// Linear value → linear value. Negative values and those beyond the table go on along its ends.
[[nodiscard]] double toned(const ToneCurve &curve, double value);
[[nodiscard]] double untoned(const ToneCurve &curve, double value); ///< the inverse

[[nodiscard]] BalancedRgb balancedFrom(const ColorModel &model, const CameraRgb &rgb);
/// Applies the tone curves.
[[nodiscard]] BalancedRgb tonedFrom(const ColorModel &model, const BalancedRgb &rgb);
[[nodiscard]] Xyz xyzFromBalanced(const ColorModel &model, const BalancedRgb &rgb);
[[nodiscard]] Xyz xyzFromCamera(const ColorModel &model, const CameraRgb &rgb);

} // namespace wavechroma
