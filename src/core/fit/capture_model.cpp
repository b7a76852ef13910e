#include "core/fit/capture_model.h"

#include "core/fit/capture_fit.h"

#include <Eigen/LU>

namespace wavechroma {

/// A check looks for spoilt patches, so that they lose their say sooner: at 4.685 of the norm over the three
/// channels instead of each channel's share of it.
static constexpr double kStrict = kTukey / 1.7320508;

std::optional<CaptureModel> fitCaptureModel(const std::vector<PlacedPatch> &patches)
{
    if (patches.size() < 10)
        return std::nullopt;
    const auto fit = fitCapture(patches, {CaptureFit::Shape::Plane, true, kStrict});
    if (!fit)
        return std::nullopt;
    // from where the patches are on average to the chart's middle
    const double middle = std::exp(-fit->gain.dot(fit->meanPlace));
    CaptureModel model;
    for (int i = 0; i < 3; ++i)
        for (int j = 0; j < 3; ++j)
            model.cameraFromXyz(i, j) = middle * fit->b(i, j);
    model.gainX = std::sinh(fit->gain(0));
    model.gainY = std::sinh(fit->gain(1));
    model.flare = fit->flare / middle;
    model.scatter = fit->scatter;
    const Eigen::Matrix3d back = (middle * fit->b).inverse();
    for (const auto &point : fit->points) {
        const Eigen::Vector3d left = back * (point.rgb - fit->expected(point));
        model.left.push_back({left(0), left(1), left(2)});
    }
    return model;
}

} // namespace wavechroma
