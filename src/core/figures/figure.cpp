#include "core/figures/figure.h"

#include "core/color/lab.h"
#include "core/color/rgb_space.h"

#include <algorithm>

namespace wavechroma {

std::array<double, 3> srgbCodesOf(const Ink &ink)
{
    if (!ink.color)
        return {ink.grey, ink.grey, ink.grey};
    const auto rgb = rgbFromXyzD50(srgb(), xyzFromLab(*ink.color));
    const auto code = [](double linear) { return encoded(Transfer::Srgb, std::clamp(linear, 0., 1.)); };
    return {code(rgb.r), code(rgb.g), code(rgb.b)};
}

} // namespace wavechroma
