#pragma once
#include "core/fit/fit_matrix.h"

namespace wavechroma {

struct CurveOptions
{
    std::vector<std::string> neutrals; ///< ids, of the chart
    bool eachChannel = false; ///< a curve a channel, for rendered pictures; else one for all, so that equal
                              ///< channels stay neutral
    double stiffness = 0;     ///< see chosenStiffness()
};

/// Tone curves on the neutrals. L*/100 of the result is a(0) + ∫ exp(g) over L*/100 of the value, which rises
/// whatever g is; g is linear between eight knots and stiff: neighbouring knots differ by a normal deviation
/// of `stiffness`. Least squares with half a unit of L* as a neutral's own doubt. A constant g is no curve at
/// all but a gain.
///
/// fitCurves: the base's matrix stays, curves and multipliers follow the neutrals. fitCurvesMatrix: then the
/// matrix is fitted to all patches behind the curves, three times in turn, with (1, 1, 1) held to the white
/// in the end. Nothing with fewer than four neutrals. With `near`, `base` is this model fitted to nearly the
/// same patches, and one turn is enough.
[[nodiscard]] std::optional<ColorModel> fitCurves(const std::vector<FittedPatch> &patches,
                                                  const ColorModel &base, const CurveOptions &options);
[[nodiscard]] std::optional<ColorModel> fitCurvesMatrix(const std::vector<FittedPatch> &patches,
                                                        const ColorModel &base, const CurveOptions &options,
                                                        bool near = false);

/// The stiffness, of a few, by which curves made without each neutral in turn say best where it lies.
[[nodiscard]] double chosenStiffness(const std::vector<FittedPatch> &patches, const ColorModel &base,
                                     const CurveOptions &options);

/// The parts of tone: `greys`, one curve for all channels, and `channels`, one for each.
[[nodiscard]] std::optional<ColorModel> fitGreysTone(const PartFit &fit, const ColorModel &base,
                                                     bool freeMatrix);
[[nodiscard]] std::optional<ColorModel> fitChannelsTone(const PartFit &fit, const ColorModel &base,
                                                        bool freeMatrix);

} // namespace wavechroma
