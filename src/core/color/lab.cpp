#include "core/color/lab.h"

#include "core/color/lab_function.h"

#include <numbers>

namespace wavechroma {

Chromaticity chromaticityFromXyz(const Xyz &color)
{
    const double sum = color.x + color.y + color.z;
    return sum == 0 ? Chromaticity{} : Chromaticity{color.x / sum, color.y / sum};
}

Xyz xyzFromChromaticity(const Chromaticity &xy)
{
    return {xy.x / xy.y, 1.0, (1 - xy.x - xy.y) / xy.y};
}

Lab labFromXyz(const Xyz &color, const Xyz &white)
{
    const double fx = labFunction(color.x / white.x);
    const double fy = labFunction(color.y / white.y);
    const double fz = labFunction(color.z / white.z);
    return {116 * fy - 16, 500 * (fx - fy), 200 * (fy - fz)};
}

static double inverseLabFunction(double f)
{
    constexpr double kDelta = 6.0 / 29.0;
    return f > kDelta ? f * f * f : (f - 4.0 / 29.0) * 108.0 / 841.0;
}

Xyz xyzFromLab(const Lab &color, const Xyz &white)
{
    const double fy = (color.l + 16) / 116;
    return {white.x * inverseLabFunction(fy + color.a / 500), white.y * inverseLabFunction(fy),
            white.z * inverseLabFunction(fy - color.b / 200)};
}

Lch lchFromLab(const Lab &color)
{
    double h = std::atan2(color.b, color.a) * 180 / std::numbers::pi;
    if (h < 0)
        h += 360;
    return {color.l, std::hypot(color.a, color.b), h};
}

Lab labFromLch(const Lch &color)
{
    const double h = color.h * std::numbers::pi / 180;
    return {color.l, color.c * std::cos(h), color.c * std::sin(h)};
}

} // namespace wavechroma
