#pragma once
#include "core/fit/capture_model.h"

#include <Eigen/Core>
#include <cmath>

/// The one robust model of light, veil and spoilt patches, for the checks (capture_model.h) and the fits
/// (settle.h), so that they cannot disagree. For these two files: other headers hide Eigen.
namespace wavechroma {

constexpr double kTukey = 4.685; ///< of the biweight: 95 % efficient with normal residuals

/// Seen camera RGB = exp(gain · place) · B · XYZ + flare · B · W, with place (u, v, u², uv, v²) less its mean
/// over the patches.
struct CaptureFit
{
    /// Which numbers are free beside B.
    struct Shape
    {
        enum Light { Even, Plane, Bent } light = Even; ///< none, the first two, all five
        bool flare = false;
        double tukey = kTukey; ///< robust deviations from which on a patch has no say
        [[nodiscard]] int count() const { return 9 + gains() + (flare ? 1 : 0); }
        [[nodiscard]] int gains() const { return light == Bent ? 5 : light == Plane ? 2 : 0; }
    };
    struct Point
    {
        Eigen::Vector3d xyz, rgb;
        Eigen::Matrix<double, 5, 1> place;
    };

    Shape shape;
    std::vector<Point> points;
    Eigen::Matrix3d b; ///< camera RGB from XYZ
    Eigen::Matrix<double, 5, 1> gain, meanPlace;
    double flare = 0;
    std::vector<double> residuals; ///< one a patch: relative, root mean square over the channels
    double scatter = 0;            ///< their robust standard deviation

    [[nodiscard]] double gainAt(const Point &point) const { return std::exp(gain.dot(point.place)); }
    [[nodiscard]] Eigen::Vector3d expected(const Point &point) const;
};

inline const Eigen::Vector3d kPaperWhite{kD50White.x, kD50White.y, kD50White.z};
/// Gauss–Newton with Tukey's biweight (Beaton and Tukey 1974) on residuals relative to the patch's own level,
/// so that a spoilt patch or three have no say, with weak priors on gain (0.25) and flare (0.05). Nothing
/// where the patches do not span three dimensions.
[[nodiscard]] std::optional<CaptureFit> fitCapture(const std::vector<PlacedPatch> &patches,
                                                   const CaptureFit::Shape &shape);

/// Schwarz's criterion (1978) of a fit with its residuals' biweight cost at one scale for all models that are
/// compared; `more` numbers were chosen besides those of its shape. The least is the best.
[[nodiscard]] double schwarzCriterion(const CaptureFit &fit, double scatter, int more = 0);

} // namespace wavechroma
