#pragma once
#include "core/fit/parts.h"

#include <array>

namespace wavechroma {

/// A smooth field of corrections in CompressedLab: at p it adds
///   w(p) Σ pull_i exp(−½ |p − place_i|²), distances in units of the two lengths,
///   w(p) = 1 − exp(−½ (C'/neutralRadius)²),
/// held below `bound` by Δ/√(1 + |Δ|²/bound²). Neutrals stay, and away from all places the field is nothing.
struct ColorField
{
    struct Point
    {
        std::array<double, 3> place{}, pull{};
    };
    double lengthL = 60, lengthAb = 20, neutralRadius = 6, bound = 12;
    std::vector<Point> points;
};
[[nodiscard]] std::vector<double> numbersOf(const ColorField &field);

/// The part `field`: numbers are the four sizes, then place and pull of each point.
[[nodiscard]] const Bending &fieldBending();
[[nodiscard]] CompressedLab corrected(std::span<const double> field, const CompressedLab &color);

/// How strong and how wide a field of corrections is.
struct FieldStrength
{
    double noise = 0; ///< variance of what no smooth field explains (metamerism, the reading), over the
                      ///< field's own; 0: no field
    double lengthAb = 20;
    double drawnIn = 0; ///< share of the pulls that neither folds nor stretches too much; 0: not known yet
};

/// What is left after a model on its patches as a smooth field: the mean of a Gaussian process with a
/// squared exponential covariance that is w(p) w(p') beside neutrals (Rasmussen and Williams 2006,
/// eq. 2.23), in CompressedLab. A patch's noise grows with 1/weight and with what its own reading is in doubt
/// by. The field is drawn in, by tenths, until no colour difference anywhere in it grows or shrinks by more
/// than half, so that it can be inverted and reverses no gradient; how far is kept in `strength`, for fits
/// with some patches left out.
[[nodiscard]] ColorField fitField(const std::vector<FittedPatch> &patches, const ColorModel &base,
                                  FieldStrength &strength);

/// The strength, of a few, whose fields made without each patch in turn (ibid., eqs. 5.10–5.12, in closed
/// form) leave the smallest mean; none unless that is at least 3 % less than without a field.
[[nodiscard]] FieldStrength chosenStrength(const std::vector<FittedPatch> &patches, const ColorModel &base);

/// Both of these, over `base`.
[[nodiscard]] std::optional<ColorModel> fitFieldPart(const PartFit &fit, const ColorModel &base);

} // namespace wavechroma
