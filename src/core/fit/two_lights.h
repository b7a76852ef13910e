#pragma once
#include "core/base/result.h"
#include "core/fit/calibration.h"

namespace wavechroma {

/// Calibrations of one station under two or three different lights as one that interpolates. `neutrals` are
/// the readings' own, as camera RGB. The first stays in front. Unusable when cameras or models differ, a
/// light is unknown, or two lights are within 5 % of each other in mireds: there is nothing to interpolate
/// between them.
[[nodiscard]] Result<Calibration> joinedLights(const std::vector<Calibration> &calibrations,
                                               const std::vector<Vector3> &neutrals);

/// Models that count together: results are added up by weight.
struct ModelBlend
{
    std::vector<std::pair<double, ColorModel>> parts; ///< weights sum to 1
};
[[nodiscard]] Xyz xyzFromCamera(const ModelBlend &blend, const CameraRgb &rgb);

/// The calibration for a frame whose neutral reads `neutral`. One light: the calibration as it is. Two: the
/// light is found from the neutral by the calibration's own colour matrices (the DNG specification's
/// iteration), and the models are weighted linearly in mired between their lights, the nearer one alone
/// outside them. Three: by 1/d² of the chromaticities. All balance by the frame's neutral, times what each
/// light's fit had found its reading's neutral to be off by, so that at a light itself the answer is that
/// light's own.
[[nodiscard]] ModelBlend modelsFor(const Calibration &calibration, const std::optional<Vector3> &neutral);

/// Weights of the lights, and the light found, for a neutral.
[[nodiscard]] std::vector<double> lightWeights(const Calibration &calibration, const Vector3 &neutral);

} // namespace wavechroma
