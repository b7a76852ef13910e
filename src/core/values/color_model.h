#pragma once
#include "core/color/colors.h"
#include "core/values/colour_lean.h"

#include <vector>

namespace wavechroma {

/// A tone curve: L*(value)/100 → L*(result)/100 at equal steps of `kToneStep` from 0 on, linear between and
/// beyond. Rises everywhere. L* stands in for a code: steps that look alike are alike.
struct ToneCurve
{
    std::vector<double> values;
    bool operator==(const ToneCurve &) const = default;
};

inline constexpr double kToneStep = 1.0 / 64;

struct Bending; // of fit/parts.h

/// What one part of colour adds beyond the matrix: its numbers, and how they are applied (see parts.h).
struct Bend
{
    const Bending *how = nullptr; ///< a constant of the program; never null in a model
    std::vector<double> numbers;
    bool operator==(const Bend &) const = default;
};

/// Camera RGB → XYZ relative to D50:
///   c = exposureScale · multipliers ∘ camera RGB
///   c = curves(c)                                (where there are any: R, G, B)
///   XYZ = matrix · c
///   XYZ = bend(c, XYZ)                           (for each, in turn)
///   XYZ = lean(XYZ)
/// The matrix takes (1, 1, 1) to the D50 white, and bends keep equal channels as they are.
struct ColorModel
{
    Vector3 multipliers{1, 1, 1}; ///< green's is 1
    double exposureScale = 1;
    std::vector<ToneCurve> curves; ///< none or three
    Matrix3 matrix;
    std::vector<Bend> bends;
    ColourLean lean;
    bool operator==(const ColorModel &) const = default;

    [[nodiscard]] bool isLinear() const { return curves.empty() && bends.empty() && lean == ColourLean{}; }
    [[nodiscard]] const Bend *bend(const Bending &how) const;
};

} // namespace wavechroma
