#include "core/sim/reflectance.h"

#include "core/color/illuminant.h"
#include "core/color/lab.h"
#include "core/sim/random.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <numbers>

namespace wavechroma::sim {

namespace {

constexpr int kSize = int(kGridSize);
using Weights = Eigen::Matrix<double, kSize, 3>;

/// Columns sum a reflectance to X, Y, Z relative to kD50White.
const Weights &weights()
{
    static const Weights w = [] {
        const auto light = illuminantD50();
        const auto &cmf = cie1931();
        Weights m;
        for (int i = 0; i < kSize; ++i)
            m.row(i) =
                light.values[size_t(i)] *
                Eigen::RowVector3d(cmf.x.values[size_t(i)], cmf.y.values[size_t(i)], cmf.z.values[size_t(i)]);
        const Eigen::RowVector3d sums = m.colwise().sum();
        m.col(0) *= kD50White.x / sums(0);
        m.col(1) *= kD50White.y / sums(1);
        m.col(2) *= kD50White.z / sums(2);
        return m;
    }();
    return w;
}

Eigen::VectorXd wave(uint64_t seed, double ripple)
{
    Random random(seed);
    Eigen::VectorXd w = Eigen::VectorXd::Zero(kSize);
    for (int k = 0; k < 3; ++k) {
        const double periodNm = random.uniform(70, 190), phase = random.uniform(0, 2 * std::numbers::pi);
        for (int i = 0; i < kSize; ++i)
            w(i) += ripple * std::sin(2 * std::numbers::pi * 5 * i / periodNm + phase);
    }
    return w;
}

} // namespace

Result<Spectrum> reflectanceOf(const Lab &color, uint64_t seed, double ripple)
{
    // With r = (1 + tanh z)/2 minimise ½ |D(z − wave)|², D the first difference, subject to Wᵀ r = XYZ;
    // Newton's method on the Lagrangian. r' = (1 − tanh²z)/2, r'' = −2 tanh(z) r'.
    const Vector3 target = vectorOf(xyzFromLab(color));
    const auto &w = weights();
    Eigen::MatrixXd difference = Eigen::MatrixXd::Zero(kSize, kSize);
    for (int i = 0; i + 1 < kSize; ++i) {
        difference(i, i) += 1;
        difference(i + 1, i + 1) += 1;
        difference(i, i + 1) -= 1;
        difference(i + 1, i) -= 1;
    }
    const Eigen::VectorXd shape = wave(seed, ripple);
    Eigen::VectorXd z = shape.array() + std::atanh(std::clamp(2 * target[1] - 1, -0.98, 0.98));
    Eigen::Vector3d lambda = Eigen::Vector3d::Zero();
    for (int iteration = 0; iteration < 100; ++iteration) {
        const Eigen::ArrayXd t = z.array().tanh();
        const Eigen::VectorXd r = (1 + t) / 2, slope = (1 - t.square()) / 2;
        const Eigen::VectorXd curve = -2 * t * slope.array();
        const Eigen::VectorXd pull = w * lambda;
        Eigen::VectorXd residual(kSize + 3);
        residual.head(kSize) = difference * (z - shape) + slope.cwiseProduct(pull);
        residual.tail(3) = w.transpose() * r - Eigen::Vector3d(target[0], target[1], target[2]);
        if (residual.norm() < 1e-11)
            return Spectrum{kGridStartNm, kGridStepNm, std::vector<double>(r.data(), r.data() + kSize)};
        Eigen::MatrixXd jacobian = Eigen::MatrixXd::Zero(kSize + 3, kSize + 3);
        jacobian.topLeftCorner(kSize, kSize) = difference;
        jacobian.diagonal().head(kSize) += curve.cwiseProduct(pull);
        jacobian.topRightCorner(kSize, 3) = slope.asDiagonal() * w;
        jacobian.bottomLeftCorner(3, kSize) = jacobian.topRightCorner(kSize, 3).transpose();
        const Eigen::VectorXd step = jacobian.partialPivLu().solve(residual);
        const double largest = step.head(kSize).cwiseAbs().maxCoeff();
        const double damping = largest > 1 ? 1 / largest : 1;
        z -= damping * step.head(kSize);
        lambda -= damping * step.tail(3);
        if (!z.allFinite())
            break;
    }
    return unusable("no reflectance has this colour");
}

std::vector<Spectrum> chartReflectances(const ChartDefinition &chart, uint64_t seed)
{
    std::vector<Spectrum> all;
    for (const auto &patch : chart.patches) {
        const bool neutral = std::count(chart.neutral.begin(), chart.neutral.end(), patch.id) > 0;
        const auto r = reflectanceOf(labFromXyz(patch.reference), seed + all.size(), neutral ? 0.012 : 0.12);
        all.push_back(r ? *r : spectrumFrom([&](double) { return patch.reference.y; }));
    }
    return all;
}

const std::vector<Yarn> &yarns()
{
    static const std::vector<Yarn> all = [] {
        const struct
        {
            const char *name;
            Lab color;
        } lots[] = {{"harbour slate", {33, 2, -3}}, {"oat", {80, 2, 14}},    {"kelp", {42, -22, 8}},
                    {"heather", {44, 16, -26}},     {"rowan", {36, 42, 22}}, {"lichen", {62, -14, 44}},
                    {"deep water", {32, -4, -30}},  {"weld", {70, 12, 60}}};
        std::vector<Yarn> list;
        for (const auto &lot : lots)
            list.push_back({lot.name, *reflectanceOf(lot.color, 700 + list.size(), 0.16)});
        return list;
    }();
    return all;
}

} // namespace wavechroma::sim
