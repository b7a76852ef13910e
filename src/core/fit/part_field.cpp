#include "core/fit/part_field.h"

#include "core/base/said.h"
#include "core/fit/model_figures.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>

namespace wavechroma {

namespace {

constexpr double kMostFieldStretch = 1.5, kLeastFieldStretch = 0.5, kWorthAPoint = 0.97;

constexpr size_t kSizes = 4, kPoint = 6, kMostPoints = 4096; // of the numbers

Xyz applyField(std::span<const double> numbers, const BalancedRgb &, const Xyz &xyz)
{
    return xyzFromCompressed(corrected(numbers, compressedFromXyz(xyz)));
}

words::Phrase faultOfField(std::span<const double> numbers)
{
    const bool sized = std::all_of(numbers.begin(), numbers.begin() + kSizes, [](double v) { return v > 0; });
    return {sized ? "" : words::said("has sizes that are not positive")};
}

Eigen::Vector3d vectorFrom(const CompressedLab &c)
{
    return {c.l, c.a, c.b};
}

struct Residuals
{
    std::vector<CompressedLab> places;
    Eigen::MatrixXd left;  ///< reference − model, a row a patch
    Eigen::VectorXd doubt; ///< relative variance, 1 for an ordinary patch
    Eigen::VectorXd share; ///< w(p)
};

/// How far the reading's own noise moves a patch in CompressedLab.
double noiseOf(const FittedPatch &patch, const ColorModel &base)
{
    const Vector3 sd = vectorOf(patch.sd);
    const auto at = vectorFrom(compressedFromXyz(xyzFromCamera(base, patch.rgb)));
    double sum = 0;
    for (size_t c = 0; c < 3; ++c) {
        Vector3 moved = vectorOf(patch.rgb);
        moved[c] += sd[c];
        sum += (vectorFrom(compressedFromXyz(xyzFromCamera(base, {moved[0], moved[1], moved[2]}))) - at)
                   .squaredNorm();
    }
    return std::sqrt(sum);
}

Residuals residualsOf(const std::vector<FittedPatch> &patches, const ColorModel &base, double neutralRadius)
{
    Residuals out;
    const auto n = Eigen::Index(patches.size());
    out.left.resize(n, 3);
    out.doubt.resize(n);
    out.share.resize(n);
    for (Eigen::Index i = 0; i < n; ++i) {
        const auto &patch = patches[size_t(i)];
        const auto place = compressedFromXyz(xyzFromCamera(base, patch.rgb));
        out.places.push_back(place);
        out.left.row(i) = (vectorFrom(compressedFromXyz(patch.reference)) - vectorFrom(place)).transpose();
        const double noise = noiseOf(patch, base);
        out.doubt(i) = (1 + noise * noise) / patch.weight;
        out.share(i) =
            -std::expm1(-0.5 * (place.a * place.a + place.b * place.b) / (neutralRadius * neutralRadius));
    }
    return out;
}

Eigen::MatrixXd covarianceOf(const Residuals &r, const ColorField &shape)
{
    const auto n = Eigen::Index(r.places.size());
    Eigen::MatrixXd k(n, n);
    for (Eigen::Index i = 0; i < n; ++i)
        for (Eigen::Index j = 0; j <= i; ++j) {
            const auto &p = r.places[size_t(i)], &q = r.places[size_t(j)];
            const double l = (p.l - q.l) / shape.lengthL, a = (p.a - q.a) / shape.lengthAb,
                         b = (p.b - q.b) / shape.lengthAb;
            k(i, j) = k(j, i) = r.share(i) * r.share(j) * std::exp(-0.5 * (l * l + a * a + b * b));
        }
    return k;
}

ColorField scaled(const ColorField &field, double share)
{
    ColorField out = field;
    for (auto &point : out.points)
        for (auto &pull : point.pull)
            pull *= share;
    return out;
}

/// The share of the pulls, in tenths, at which the field neither folds nor stretches too much.
double soundShareOf(const ColorField &field)
{
    for (int tenths = 10; tenths > 1; --tenths) {
        const auto numbers = numbersOf(scaled(field, tenths / 10.0));
        const auto stretch = stretchOf([&](const CompressedLab &p) { return corrected(numbers, p); });
        if (stretch.most <= kMostFieldStretch && stretch.least >= kLeastFieldStretch)
            return tenths / 10.0;
    }
    return 0.1;
}

} // namespace

std::vector<double> numbersOf(const ColorField &field)
{
    std::vector<double> out{field.lengthL, field.lengthAb, field.neutralRadius, field.bound};
    for (const auto &point : field.points) {
        out.insert(out.end(), point.place.begin(), point.place.end());
        out.insert(out.end(), point.pull.begin(), point.pull.end());
    }
    return out;
}

const Bending &fieldBending()
{
    static const Bending field{"field",
                               {{"length_l", "length_ab", "neutral_radius", "bound"},
                                "points",
                                {{"place", 3}, {"pull", 3}},
                                kMostPoints},
                               applyField,
                               faultOfField};
    return field;
}

CompressedLab corrected(std::span<const double> field, const CompressedLab &p)
{
    const double lengthL = field[0], lengthAb = field[1], neutralRadius = field[2], bound = field[3];
    std::array<double, 3> d{};
    for (size_t i = kSizes; i + kPoint <= field.size(); i += kPoint) {
        const auto point = field.subspan(i, kPoint);
        const double l = (p.l - point[0]) / lengthL, a = (p.a - point[1]) / lengthAb,
                     b = (p.b - point[2]) / lengthAb;
        const double k = std::exp(-0.5 * (l * l + a * a + b * b));
        for (size_t c = 0; c < 3; ++c)
            d[c] += k * point[3 + c];
    }
    const double w = -std::expm1(-0.5 * (p.a * p.a + p.b * p.b) / (neutralRadius * neutralRadius));
    const double size2 = w * w * (d[0] * d[0] + d[1] * d[1] + d[2] * d[2]);
    const double scale = w / std::sqrt(1 + size2 / (bound * bound));
    return {p.l + scale * d[0], p.a + scale * d[1], p.b + scale * d[2]};
}

ColorField fitField(const std::vector<FittedPatch> &patches, const ColorModel &base, FieldStrength &strength)
{
    ColorField field;
    if (strength.noise <= 0 || patches.empty())
        return field;
    field.lengthAb = strength.lengthAb;
    const auto r = residualsOf(patches, base, field.neutralRadius);
    Eigen::MatrixXd k = covarianceOf(r, field);
    k.diagonal() += strength.noise * r.doubt;
    const Eigen::MatrixXd pull = k.llt().solve(r.left);
    for (size_t i = 0; i < patches.size(); ++i) {
        const auto row = Eigen::Index(i);
        const auto &p = r.places[i];
        field.points.push_back(
            {{p.l, p.a, p.b},
             {r.share(row) * pull(row, 0), r.share(row) * pull(row, 1), r.share(row) * pull(row, 2)}});
    }
    if (strength.drawnIn == 0)
        strength.drawnIn = soundShareOf(field);
    return scaled(field, strength.drawnIn);
}

FieldStrength chosenStrength(const std::vector<FittedPatch> &patches, const ColorModel &base)
{
    FieldStrength best;
    ColorField shape;
    const auto r = residualsOf(patches, base, shape.neutralRadius);
    const auto meanOf = [](const Eigen::MatrixXd &left) { return left.rowwise().norm().mean(); };
    double least = kWorthAPoint * meanOf(r.left);
    for (const double length : {12.0, 20.0, 32.0}) {
        shape.lengthAb = length;
        const auto covariance = covarianceOf(r, shape);
        for (const double noise : {0.15, 0.5, 1.5, 5.0}) {
            Eigen::MatrixXd k = covariance;
            k.diagonal() += noise * r.doubt;
            const Eigen::MatrixXd back = k.llt().solve(Eigen::MatrixXd::Identity(k.rows(), k.cols()));
            const double mean = meanOf((back * r.left).array().colwise() / back.diagonal().array());
            if (mean < least) {
                least = mean;
                best = {noise, length, 0};
            }
        }
    }
    return best;
}

std::optional<ColorModel> fitFieldPart(const PartFit &fit, const ColorModel &base)
{
    FieldStrength strength;
    if (fit.strength.empty())
        strength = chosenStrength(fit.patches, base);
    else
        strength = {fit.strength[0], fit.strength[1], fit.strength[2]};
    ColorModel model = base;
    const auto field = fitField(fit.patches, base, strength);
    if (!field.points.empty())
        model.bends.push_back({&fieldBending(), numbersOf(field)});
    fit.strength = {strength.noise, strength.lengthAb, strength.drawnIn};
    return model;
}

} // namespace wavechroma
