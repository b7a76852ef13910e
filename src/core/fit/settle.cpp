#include "core/fit/settle.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>

namespace wavechroma {

namespace {

constexpr int kB = 0, kGain = 9, kFlare = 14, kCount = 15;
constexpr size_t kFewest = 16;
constexpr double kGainPrior = 0.25, kFlarePrior = 0.05;
constexpr double kTukey = 4.685, kSpoiltDeviations = 5, kSpoiltShare = 0.3;
constexpr double kLeastScatter = 0.004;

using Parameters = Eigen::Matrix<double, kCount, 1>;
const Eigen::Vector3d kWhite{kD50White.x, kD50White.y, kD50White.z};

struct Point
{
    Eigen::Vector3d xyz, rgb;
    Eigen::Matrix<double, 5, 1> place; ///< u, v, u², uv, v², each without its mean over the patches
};

/// Which numbers are free beside B.
struct Shape
{
    bool light = false, flare = false;
    [[nodiscard]] int count() const { return 9 + (light ? 5 : 0) + (flare ? 1 : 0); }
};

struct Solved
{
    Parameters p = Parameters::Zero();
    std::vector<double> residuals; ///< relative, norm over the channels
    double scatter = 0;
    bool valid = false;
};

Eigen::Matrix3d matrixOf(const Parameters &p)
{
    return Eigen::Map<const Eigen::Matrix<double, 3, 3, Eigen::RowMajor>>(p.data() + kB);
}

std::vector<Point> pointsOf(const std::vector<PlacedPatch> &patches)
{
    std::vector<Point> points;
    Eigen::Matrix<double, 5, 1> mean = Eigen::Matrix<double, 5, 1>::Zero();
    for (const auto &p : patches) {
        Point point;
        point.xyz = {p.patch.reference.x, p.patch.reference.y, p.patch.reference.z};
        point.rgb = {p.patch.rgb.r, p.patch.rgb.g, p.patch.rgb.b};
        point.place << p.u, p.v, p.u * p.u, p.u * p.v, p.v * p.v;
        mean += point.place / double(patches.size());
        points.push_back(point);
    }
    for (auto &point : points)
        point.place -= mean;
    return points;
}

double medianOf(std::vector<double> values)
{
    std::nth_element(values.begin(), values.begin() + ptrdiff_t(values.size() / 2), values.end());
    return values[values.size() / 2];
}

Eigen::Vector3d scaleOf(const Eigen::Matrix3d &b, const Point &point)
{
    return (b * (point.xyz + 0.04 * kWhite)).cwiseAbs().cwiseMax(1e-6);
}

double gainOf(const Parameters &p, const Point &point)
{
    return std::exp(p.segment<5>(kGain).dot(point.place));
}

Eigen::Vector3d expected(const Parameters &p, const Point &point)
{
    const Eigen::Matrix3d b = matrixOf(p);
    return gainOf(p, point) * (b * point.xyz) + p(kFlare) * (b * kWhite);
}

std::vector<double> residualsOf(const Parameters &p, const std::vector<Point> &points)
{
    std::vector<double> out;
    const Eigen::Matrix3d b = matrixOf(p);
    for (const auto &point : points)
        out.push_back((point.rgb - expected(p, point)).cwiseQuotient(scaleOf(b, point)).norm() /
                      std::sqrt(3.0));
    return out;
}

/// B alone by weighted least squares.
bool start(Parameters &p, const std::vector<Point> &points, const std::vector<double> &weights)
{
    const auto count = Eigen::Index(points.size());
    Eigen::MatrixXd xyz(count, 3), rgb(count, 3);
    for (Eigen::Index i = 0; i < count; ++i) {
        const auto &point = points[size_t(i)];
        const double w = std::sqrt(weights[size_t(i)]) / (point.xyz(1) + 0.06);
        xyz.row(i) = w * point.xyz.transpose();
        rgb.row(i) = w * point.rgb.transpose();
    }
    auto qr = xyz.colPivHouseholderQr();
    qr.setThreshold(1e-6);
    if (qr.rank() < 3)
        return false;
    Eigen::Map<Eigen::Matrix<double, 3, 3, Eigen::RowMajor>>(p.data() + kB) = qr.solve(rgb).transpose();
    return true;
}

void step(Parameters &p, const std::vector<Point> &points, const std::vector<double> &weights,
          const Shape &shape, double scatter)
{
    const auto count = Eigen::Index(points.size());
    Eigen::MatrixXd jacobian = Eigen::MatrixXd::Zero(3 * count + 6, kCount);
    Eigen::VectorXd residual = Eigen::VectorXd::Zero(3 * count + 6);
    const Eigen::Matrix3d b = matrixOf(p);
    const Eigen::Vector3d white = b * kWhite;
    for (Eigen::Index i = 0; i < count; ++i) {
        const auto &point = points[size_t(i)];
        const double gain = gainOf(p, point), w = std::sqrt(weights[size_t(i)]);
        const Eigen::Vector3d plain = b * point.xyz, should = expected(p, point), scale = scaleOf(b, point);
        for (Eigen::Index c = 0; c < 3; ++c) {
            const Eigen::Index row = 3 * i + c;
            const double k = w / scale(c);
            jacobian.block<1, 3>(row, 3 * c) = k * (gain * point.xyz + p(kFlare) * kWhite).transpose();
            if (shape.light)
                jacobian.block<1, 5>(row, kGain) = k * gain * plain(c) * point.place.transpose();
            if (shape.flare)
                jacobian(row, kFlare) = k * white(c);
            residual(row) = k * (point.rgb(c) - should(c));
        }
    }
    for (Eigen::Index i = 0; i < 6;
         ++i) { // the priors, in the residuals' own deviations; they also hold what is not free at 0
        const double k = scatter / (i < 5 ? kGainPrior : kFlarePrior);
        const bool free = i < 5 ? shape.light : shape.flare;
        jacobian(3 * count + i, kGain + i) = free ? k : 1;
        residual(3 * count + i) = free ? -k * p(kGain + i) : 0;
    }
    p += jacobian.colPivHouseholderQr().solve(residual);
}

Solved solve(const std::vector<Point> &points, const Shape &shape)
{
    Solved out;
    std::vector<double> weights(points.size(), 1);
    if (!start(out.p, points, weights))
        return out;
    for (int round = 0; round < 30; ++round) {
        out.residuals = residualsOf(out.p, points);
        // of the norm of three normal residuals over √3 the median is 0.888 of their deviation
        out.scatter = std::max(kLeastScatter, medianOf(out.residuals) / 0.888);
        // wide at first, so that a bad start does not throw good patches out
        const double limit = kTukey * out.scatter * std::max(1.0, 3.0 - 0.25 * round);
        for (size_t i = 0; i < points.size(); ++i) {
            const double r = out.residuals[i] / limit;
            weights[i] = r < 1 ? (1 - r * r) * (1 - r * r) : 0;
        }
        step(out.p, points, weights, shape, out.scatter);
    }
    out.residuals = residualsOf(out.p, points);
    out.scatter = std::max(kLeastScatter, medianOf(out.residuals) / 0.888);
    out.valid = out.p.allFinite() && std::abs(matrixOf(out.p).determinant()) > 1e-12;
    return out;
}

/// Schwarz's criterion with the residuals' robust cost at one scale for all models compared.
double criterionOf(const Solved &solved, const Shape &shape, double scatter)
{
    const double limit = kTukey * scatter;
    double cost = 0;
    for (const double r : solved.residuals) {
        const double t = std::min(1.0, r / limit);
        cost += limit * limit / 6 * (1 - std::pow(1 - t * t, 3));
    }
    const double n = 2 * double(solved.residuals.size()); // a patch's three residuals hang together
    return n * std::log(cost / n) + shape.count() * std::log(n);
}

} // namespace

Settled settle(const std::vector<PlacedPatch> &patches, const SettleOptions &options)
{
    Settled out;
    for (const auto &p : patches)
        out.patches.push_back(p.patch);
    if (patches.size() < kFewest)
        return out;
    const auto points = pointsOf(patches);
    std::vector<std::pair<Shape, Solved>> tried;
    for (const bool light : {false, true})
        for (const bool flare : {false, true})
            if ((options.evenLight || !light) && (options.flare || !flare))
                if (auto solved = solve(points, {light, flare}); solved.valid && solved.p(kFlare) > -0.02)
                    tried.emplace_back(Shape{light, flare}, std::move(solved));
    if (tried.empty())
        return out;
    double scatter = 1e9;
    for (const auto &[shape, solved] : tried)
        scatter = std::min(scatter, solved.scatter);
    const auto best = std::min_element(tried.begin(), tried.end(), [&](const auto &a, const auto &b) {
        return criterionOf(a.second, a.first, scatter) < criterionOf(b.second, b.first, scatter);
    });
    const auto &p = best->second.p;
    out.scatter = best->second.scatter;
    out.flare = best->first.flare ? p(kFlare) : 0;
    if (best->first.light)
        for (size_t i = 0; i < 5; ++i)
            out.gain[i] = p(kGain + Eigen::Index(i));
    const Eigen::Vector3d veil = out.flare * (matrixOf(p) * kWhite);
    for (size_t i = 0; i < points.size(); ++i) {
        const Eigen::Vector3d rgb = (points[i].rgb - veil) / (best->first.light ? gainOf(p, points[i]) : 1);
        out.patches[i].rgb = {rgb(0), rgb(1), rgb(2)};
        if (options.spoilt &&
            best->second.residuals[i] > std::max(kSpoiltDeviations * out.scatter, kSpoiltShare))
            out.spoilt.push_back(out.patches[i].id);
    }
    return out;
}

} // namespace wavechroma
