#pragma once
#include "core/base/matrix3.h"

/// One type per colour space, so that a mix-up does not compile.
namespace wavechroma {

struct CameraRgb
{
    double r = 0, g = 0, b = 0; ///< linear, black subtracted, 1 = saturation, no white balance
    bool operator==(const CameraRgb &) const = default;
};

struct BalancedRgb
{
    double r = 0, g = 0, b = 0; ///< camera RGB × multipliers × exposure scale; equal channels are neutral
};

struct Xyz
{
    double x = 0, y = 0, z = 0; ///< relative to a perfect diffuser, Y = 1; CIE 1931 2°
    bool operator==(const Xyz &) const = default;
};

struct Chromaticity
{
    double x = 0, y = 0; ///< CIE 1931 x, y
    bool operator==(const Chromaticity &) const = default;
};

struct Lab
{
    double l = 0, a = 0, b = 0; ///< CIE 1976, white D50 unless the function says otherwise
    bool operator==(const Lab &) const = default;
};

struct Lch
{
    double l = 0, c = 0, h = 0; ///< CIE 1976 L*, C*ab, hab in degrees 0…360
};

/// The profile connection space's white, ICC.1:2010 7.2.16, as the project's documents use it.
inline constexpr Xyz kD50White{0.9642, 1.0, 0.8249};

[[nodiscard]] inline Vector3 vectorOf(const Xyz &c)
{
    return {c.x, c.y, c.z};
}
[[nodiscard]] inline Vector3 vectorOf(const CameraRgb &c)
{
    return {c.r, c.g, c.b};
}
[[nodiscard]] inline Vector3 vectorOf(const BalancedRgb &c)
{
    return {c.r, c.g, c.b};
}
[[nodiscard]] inline Xyz xyzOf(const Vector3 &v)
{
    return {v[0], v[1], v[2]};
}

/// x, y of a colour; (0, 0) for black, which has none.
[[nodiscard]] Chromaticity chromaticityFromXyz(const Xyz &color);
/// Returns XYZ with Y = 1. `xy.y` must not be 0.
[[nodiscard]] Xyz xyzFromChromaticity(const Chromaticity &xy);

} // namespace wavechroma
