#pragma once
#include "core/color/colors.h"

namespace wavechroma {

enum class AdaptationMethod {
    Bradford, ///< linear Bradford, ICC.1:2010 annex E
    Cat16     ///< Li et al. 2017, Color Res. Appl. 42(6), the full von Kries form with D = 1
};

/// XYZ under one white → corresponding XYZ under another. Maps `from` to `to` exactly. Both whites need
/// positive cone responses, as every real light has.
[[nodiscard]] Matrix3 adaptation(const Xyz &from, const Xyz &to,
                                 AdaptationMethod method = AdaptationMethod::Bradford);

} // namespace wavechroma
