#include "core/color/compressed_lab.h"

#include "core/color/lab.h"

#include <cmath>

namespace wavechroma {

static constexpr double kRate = 0.045; // CIE94's S_C = 1 + 0.045 C*

CompressedLab compressedFromLab(const Lab &color)
{
    const double chroma = std::hypot(color.a, color.b);
    const double share = chroma < 1e-9 ? 1 : std::log1p(kRate * chroma) / (kRate * chroma);
    return {color.l, color.a * share, color.b * share};
}

Lab labFromCompressed(const CompressedLab &color)
{
    const double drawn = std::hypot(color.a, color.b);
    const double share = drawn < 1e-9 ? 1 : std::expm1(kRate * drawn) / (kRate * drawn);
    return {color.l, color.a * share, color.b * share};
}

CompressedLab compressedFromXyz(const Xyz &color)
{
    return compressedFromLab(labFromXyz(color));
}

Xyz xyzFromCompressed(const CompressedLab &color)
{
    return xyzFromLab(labFromCompressed(color));
}

} // namespace wavechroma
