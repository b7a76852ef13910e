#pragma once
#include "core/color/colors.h"
#include "core/color/compressed_lab.h"

#include <array>
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

/// Linear value → linear value. Negative values and those beyond the table go on along its ends.
[[nodiscard]] double toned(const ToneCurve &curve, double value);
[[nodiscard]] double untoned(const ToneCurve &curve, double value); ///< the inverse

/// A smooth field of corrections in CompressedLab: at p it adds
///   w(p) Σ pull_i exp(−½ |p − place_i|²), distances in units of the two lengths, w(p) = 1 − exp(−½
///   (C'/neutralRadius)²),
/// held below `bound` by Δ/√(1 + |Δ|²/bound²). Neutrals stay, and away from all places the field is nothing.
struct ColorField
{
    struct Point
    {
        std::array<double, 3> place{}, pull{};
        bool operator==(const Point &) const = default;
    };
    std::vector<Point> points; ///< none: no field
    double lengthL = 60, lengthAb = 20, neutralRadius = 6, bound = 12;
    bool operator==(const ColorField &) const = default;
};
[[nodiscard]] CompressedLab corrected(const ColorField &field, const CompressedLab &color);

/// What is laid over the exact colours on purpose, see character.h.
enum class Character { Exact, CalmReds, Lively };

/// Camera RGB → XYZ relative to D50:
///   c = exposureScale · multipliers ∘ camera RGB
///   c = (1 − offset) c + offset, for each channel                  (a veil of the light's own colour, where
///   not 0) c = curves(c)                                                  (where there are any: R, G, B) XYZ
///   = matrix · c + root · (√(rg) − (r+g)/2, √(gb) − (g+b)/2, √(rb) − (r+b)/2) XYZ = field(XYZ), then the
///   character
/// The matrix takes (1, 1, 1) to the D50 white, the root terms vanish for equal channels and keep a colour's
/// ratio when the exposure changes (Finlayson, Mackiewicz and Hurlbert 2015, IEEE TIP 24(5), degree 2,
/// rewritten as differences).
struct ColorModel
{
    Vector3 multipliers{1, 1, 1}; ///< green's is 1
    double exposureScale = 1;
    Matrix3 matrix;
    double offset = 0;
    std::vector<ToneCurve> curves; ///< none or three
    Matrix3 root;                  ///< all 0: none
    ColorField field;
    Character character = Character::Exact;
    bool operator==(const ColorModel &) const = default;

    [[nodiscard]] bool isLinear() const
    {
        return offset == 0 && curves.empty() && root == Matrix3{} && field.points.empty() &&
               character == Character::Exact;
    }
};

[[nodiscard]] BalancedRgb balancedFrom(const ColorModel &model, const CameraRgb &rgb);
[[nodiscard]] Xyz xyzFromBalanced(const ColorModel &model, const BalancedRgb &rgb);
[[nodiscard]] Xyz xyzFromCamera(const ColorModel &model, const CameraRgb &rgb);
/// The model without its field and its character.
[[nodiscard]] Xyz baseXyzFromBalanced(const ColorModel &model, const BalancedRgb &rgb);

} // namespace wavechroma
