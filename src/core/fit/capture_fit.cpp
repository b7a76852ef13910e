#include "core/fit/capture_fit.h"

#include "core/base/least_squares.h"
#include "core/base/statistics.h"

#include <Eigen/LU>
#include <algorithm>
#include <cmath>

namespace wavechroma {

namespace {

constexpr int kGain = 9, kFlare = 14, kCount = 15;
constexpr double kGainPrior = 0.25, kFlarePrior = 0.05, kLeastScatter = 0.004;

using Parameters = Eigen::Matrix<double, kCount, 1>; // B row by row, gains, flare

void placePoints(CaptureFit &fit, const std::vector<PlacedPatch> &patches)
{
    fit.meanPlace.setZero();
    for (const auto &p : patches) {
        CaptureFit::Point point;
        point.xyz = {p.patch.reference.x, p.patch.reference.y, p.patch.reference.z};
        point.rgb = {p.patch.rgb.r, p.patch.rgb.g, p.patch.rgb.b};
        point.place << p.u, p.v, p.u * p.u, p.u * p.v, p.v * p.v;
        fit.meanPlace += point.place / double(patches.size());
        fit.points.push_back(point);
    }
    for (auto &point : fit.points)
        point.place -= fit.meanPlace;
}

/// Residuals are compared relative to the patch's own level with a floor, as the eye and the sensor's noise
/// both do.
Eigen::Vector3d scaleOf(const CaptureFit &fit, const CaptureFit::Point &point)
{
    return (fit.b * (point.xyz + 0.04 * kPaperWhite)).cwiseAbs().cwiseMax(1e-6);
}

void judge(CaptureFit &fit)
{
    fit.residuals.clear();
    for (const auto &point : fit.points)
        fit.residuals.push_back((point.rgb - fit.expected(point)).cwiseQuotient(scaleOf(fit, point)).norm() /
                                std::sqrt(3.0));
    // of the norm of three normal residuals over √3 the median is 0.888 of their deviation
    fit.scatter = std::max(kLeastScatter, medianOf(fit.residuals) / 0.888);
}

/// B alone by weighted least squares.
bool start(CaptureFit &fit)
{
    const auto count = Eigen::Index(fit.points.size());
    Eigen::MatrixXd xyz(count, 3), rgb(count, 3);
    for (Eigen::Index i = 0; i < count; ++i) {
        const auto &point = fit.points[size_t(i)];
        const double w = 1 / (point.xyz(1) + 0.06);
        xyz.row(i) = w * point.xyz.transpose();
        rgb.row(i) = w * point.rgb.transpose();
    }
    const auto b = soundLeastSquares(xyz, rgb, 1e-6);
    if (!b)
        return false;
    fit.b = b->transpose();
    fit.gain.setZero();
    return true;
}

void step(CaptureFit &fit, const std::vector<double> &weights)
{
    const auto count = Eigen::Index(fit.points.size());
    const int gains = fit.shape.gains();
    Eigen::MatrixXd jacobian = Eigen::MatrixXd::Zero(3 * count + 6, kCount);
    Eigen::VectorXd residual = Eigen::VectorXd::Zero(3 * count + 6);
    const Eigen::Vector3d white = fit.b * kPaperWhite;
    for (Eigen::Index i = 0; i < count; ++i) {
        const auto &point = fit.points[size_t(i)];
        const double gain = fit.gainAt(point), w = std::sqrt(weights[size_t(i)]);
        const Eigen::Vector3d plain = fit.b * point.xyz, should = fit.expected(point),
                              scale = scaleOf(fit, point);
        for (Eigen::Index c = 0; c < 3; ++c) {
            const Eigen::Index row = 3 * i + c;
            const double k = w / scale(c);
            jacobian.block<1, 3>(row, 3 * c) = k * (gain * point.xyz + fit.flare * kPaperWhite).transpose();
            for (int g = 0; g < gains; ++g)
                jacobian(row, kGain + g) = k * gain * plain(c) * point.place(g);
            if (fit.shape.flare)
                jacobian(row, kFlare) = k * white(c);
            residual(row) = k * (point.rgb(c) - should(c));
        }
    }
    // the priors, in the residuals' own deviations; they also hold what is not free at 0
    for (Eigen::Index i = 0; i < 6; ++i) {
        const bool isFlare = i == 5, isFree = isFlare ? fit.shape.flare : i < gains;
        const double k = isFree ? fit.scatter / (isFlare ? kFlarePrior : kGainPrior) : 1;
        jacobian(3 * count + i, kGain + i) = k;
        residual(3 * count + i) = isFree ? -k * (isFlare ? fit.flare : fit.gain(i)) : 0;
    }
    const Parameters change = leastSquares(jacobian, residual);
    fit.b += Eigen::Map<const Eigen::Matrix<double, 3, 3, Eigen::RowMajor>>(change.data());
    fit.gain += change.segment<5>(kGain);
    fit.flare += change(kFlare);
}

} // namespace

Eigen::Vector3d CaptureFit::expected(const Point &point) const
{
    return gainAt(point) * (b * point.xyz) + flare * (b * kPaperWhite);
}

double schwarzCriterion(const CaptureFit &fit, double scatter, int more)
{
    const double limit = kTukey * scatter;
    double cost = 0;
    for (const double r : fit.residuals) {
        const double t = std::min(1.0, r / limit);
        cost += limit * limit / 6 * (1 - std::pow(1 - t * t, 3));
    }
    const double n = 2 * double(fit.residuals.size()); // a patch's three residuals hang together
    return n * std::log(cost / n) + (fit.shape.count() + more) * std::log(n);
}

std::optional<CaptureFit> fitCapture(const std::vector<PlacedPatch> &patches, const CaptureFit::Shape &shape)
{
    CaptureFit fit;
    fit.shape = shape;
    placePoints(fit, patches);
    if (!start(fit))
        return std::nullopt;
    std::vector<double> weights(patches.size(), 1);
    for (int round = 0; round < 30; ++round) {
        judge(fit);
        // wide at first, so that a bad start does not throw good patches out
        const double limit = fit.shape.tukey * fit.scatter * std::max(1.0, 3.0 - 0.25 * round);
        for (size_t i = 0; i < weights.size(); ++i) {
            const double r = fit.residuals[i] / limit;
            weights[i] = r < 1 ? (1 - r * r) * (1 - r * r) : 0;
        }
        step(fit, weights);
    }
    judge(fit);
    const bool isSound = fit.b.allFinite() && fit.gain.allFinite() && std::isfinite(fit.flare) &&
                         std::abs(fit.b.determinant()) > 1e-12;
    return isSound ? std::optional(std::move(fit)) : std::nullopt;
}

} // namespace wavechroma
