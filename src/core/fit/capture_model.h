#pragma once
#include "core/fit/calibration.h"

#include <optional>

namespace wavechroma {

/// A patch as a capture model sees it: its place on the chart, both −1…1 from left to right and top to
/// bottom.
struct PlacedPatch
{
    FittedPatch patch;
    double u = 0, v = 0;
};

/// What the light and the lens did to a chart, as far as one reading tells:
///   camera RGB = exp(a u + b v) · B · XYZ + flare · B · W
/// with B the 3×3 from reference XYZ to camera RGB, W the D50 white: light that changes evenly over the chart
/// and one veil of the light's own colour over everything. See capture_fit.h.
struct CaptureModel
{
    Matrix3 cameraFromXyz;       ///< B
    double gainX = 0, gainY = 0; ///< sinh a, sinh b: half the difference between opposite edges, relative to
                                 ///< the middle
    double flare = 0;            ///< share of what a perfect diffuser gives
    /// One a patch, in the order given: B⁻¹ (seen − expected), what is too much or too little of it as XYZ,
    /// relative to a perfect diffuser.
    std::vector<Xyz> left;
    double scatter = 0; ///< robust standard deviation of the relative residuals of the patches that fit
};

/// Returns nothing with fewer than 10 patches, or if they do not determine B.
[[nodiscard]] std::optional<CaptureModel> fitCaptureModel(const std::vector<PlacedPatch> &patches);

} // namespace wavechroma
