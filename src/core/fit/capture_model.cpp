#include "core/fit/capture_model.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>

namespace wavechroma {

namespace {

using Parameters = Eigen::Matrix<double, 12, 1>; // B row by row, gainX, gainY, flare

Eigen::Vector3d xyzOfPatch(const PlacedPatch &p)
{
    return {p.patch.reference.x, p.patch.reference.y, p.patch.reference.z};
}

Eigen::Vector3d rgbOfPatch(const PlacedPatch &p)
{
    return {p.patch.rgb.r, p.patch.rgb.g, p.patch.rgb.b};
}

Eigen::Matrix3d matrixOf(const Parameters &p)
{
    return Eigen::Map<const Eigen::Matrix<double, 3, 3, Eigen::RowMajor>>(p.data());
}

double gainAt(const Parameters &p, const PlacedPatch &patch)
{
    return 1 + p(9) * patch.u + p(10) * patch.v;
}

const Eigen::Vector3d kWhite{kD50White.x, kD50White.y, kD50White.z};

Eigen::Vector3d expected(const Parameters &p, const PlacedPatch &patch)
{
    const Eigen::Matrix3d b = matrixOf(p);
    return gainAt(p, patch) * (b * xyzOfPatch(patch)) + p(11) * (b * kWhite);
}

/// Residuals are compared relative to the patch's own level with a floor, as the eye and the sensor's noise
/// both do.
Eigen::Vector3d scaleOf(const Parameters &p, const PlacedPatch &patch)
{
    return (matrixOf(p) * (xyzOfPatch(patch) + 0.04 * kWhite)).cwiseAbs().cwiseMax(1e-6);
}

double medianOf(std::vector<double> values)
{
    std::nth_element(values.begin(), values.begin() + ptrdiff_t(values.size() / 2), values.end());
    return values[values.size() / 2];
}

double relativeResidual(const Parameters &p, const PlacedPatch &patch)
{
    return (rgbOfPatch(patch) - expected(p, patch)).cwiseQuotient(scaleOf(p, patch)).norm();
}

/// The start: B alone, with even light and no flare.
std::optional<Parameters> startOf(const std::vector<PlacedPatch> &patches)
{
    const auto count = Eigen::Index(patches.size());
    Eigen::MatrixXd xyz(count, 3), rgb(count, 3);
    for (Eigen::Index i = 0; i < count; ++i) {
        const auto &p = patches[size_t(i)];
        const double w = 1 / (p.patch.reference.y + 0.06);
        xyz.row(i) = w * xyzOfPatch(p).transpose();
        rgb.row(i) = w * rgbOfPatch(p).transpose();
    }
    auto qr = xyz.colPivHouseholderQr();
    qr.setThreshold(1e-6);
    if (qr.rank() < 3)
        return std::nullopt;
    Parameters p = Parameters::Zero();
    Eigen::Map<Eigen::Matrix<double, 3, 3, Eigen::RowMajor>>(p.data()) = qr.solve(rgb).transpose();
    return p;
}

void step(Parameters &p, const std::vector<PlacedPatch> &patches, const std::vector<double> &weights)
{
    const auto count = Eigen::Index(patches.size());
    Eigen::MatrixXd jacobian = Eigen::MatrixXd::Zero(3 * count + 3, 12);
    Eigen::VectorXd residual = Eigen::VectorXd::Zero(3 * count + 3);
    const Eigen::Matrix3d b = matrixOf(p);
    const Eigen::Vector3d white = b * kWhite;
    for (Eigen::Index i = 0; i < count; ++i) {
        const auto &patch = patches[size_t(i)];
        const Eigen::Vector3d xyz = xyzOfPatch(patch), plain = b * xyz, seen = rgbOfPatch(patch),
                              should = expected(p, patch), scale = scaleOf(p, patch);
        const double w = std::sqrt(weights[size_t(i)]);
        for (Eigen::Index c = 0; c < 3; ++c) {
            const Eigen::Index row = 3 * i + c;
            const double k = w / scale(c);
            jacobian.block<1, 3>(row, 3 * c) = k * (gainAt(p, patch) * xyz + p(11) * kWhite).transpose();
            jacobian(row, 9) = k * patch.u * plain(c);
            jacobian(row, 10) = k * patch.v * plain(c);
            jacobian(row, 11) = k * white(c);
            residual(row) = k * (seen(c) - should(c));
        }
    }
    // A weak pull of gradient and flare towards none, worth a hundredth of one patch: it decides only what
    // the reading leaves open, as with the greys alone.
    for (Eigen::Index k = 0; k < 3; ++k) {
        jacobian(3 * count + k, 9 + k) = 0.1;
        residual(3 * count + k) = -0.1 * p(9 + k);
    }
    p += jacobian.colPivHouseholderQr().solve(residual);
}

} // namespace

std::optional<CaptureModel> fitCaptureModel(const std::vector<PlacedPatch> &patches)
{
    if (patches.size() < 10)
        return std::nullopt;
    auto start = startOf(patches);
    if (!start)
        return std::nullopt;
    Parameters p = *start;
    std::vector<double> weights(patches.size(), 1);
    double scatter = 0;
    for (int round = 0; round < 25; ++round) {
        step(p, patches, weights);
        std::vector<double> residuals;
        for (const auto &patch : patches)
            residuals.push_back(relativeResidual(p, patch));
        // 1.538 makes the median of the norm of three normal residuals their standard deviation (chi with 3
        // degrees: 1.538)
        scatter = std::max(0.004, medianOf(residuals) / 1.538);
        // wide at first, so that a bad start does not throw good patches out
        const double limit = 4.685 * scatter * std::max(1.0, 4.0 - round);
        for (size_t i = 0; i < patches.size(); ++i) {
            const double r = residuals[i] / limit;
            weights[i] = r < 1 ? (1 - r * r) * (1 - r * r) : 0;
        }
    }
    const Eigen::Matrix3d b = matrixOf(p);
    if (!p.allFinite() || std::abs(b.determinant()) < 1e-12)
        return std::nullopt;
    CaptureModel model;
    for (int i = 0; i < 3; ++i)
        for (int j = 0; j < 3; ++j)
            model.cameraFromXyz(i, j) = b(i, j);
    model.gainX = p(9);
    model.gainY = p(10);
    model.flare = p(11);
    model.scatter = scatter;
    const Eigen::Matrix3d back = b.inverse();
    for (const auto &patch : patches) {
        const Eigen::Vector3d left = back * (rgbOfPatch(patch) - expected(p, patch));
        model.left.push_back({left(0), left(1), left(2)});
    }
    return model;
}

CameraRgb corrected(const CaptureModel &model, const PlacedPatch &patch)
{
    const Vector3 veil = model.cameraFromXyz * vectorOf(kD50White);
    const double gain = 1 + model.gainX * patch.u + model.gainY * patch.v;
    const auto &c = patch.patch.rgb;
    return {(c.r - model.flare * veil[0]) / gain, (c.g - model.flare * veil[1]) / gain,
            (c.b - model.flare * veil[2]) / gain};
}

} // namespace wavechroma
