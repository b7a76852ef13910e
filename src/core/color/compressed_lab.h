#pragma once
#include "core/color/colors.h"

namespace wavechroma {

/// L*a*b* with its chroma drawn in so that one unit is about one unit of colour difference anywhere:
///   C' = ln(1 + 0.045 C*ab) / 0.045, hue and L* as they are.
/// The derivative is 1/S_C of CIE94 (CIE 116:1995). Fields of corrections live here, where their size means
/// the same for pale and for strong colours.
struct CompressedLab
{
    double l = 0, a = 0, b = 0;
};

[[nodiscard]] CompressedLab compressedFromLab(const Lab &color);
[[nodiscard]] Lab labFromCompressed(const CompressedLab &color);
[[nodiscard]] CompressedLab compressedFromXyz(const Xyz &color);
[[nodiscard]] Xyz xyzFromCompressed(const CompressedLab &color);

} // namespace wavechroma
