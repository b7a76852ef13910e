#include "core/fit/fit_root.h"

#include "core/fit/fit_terms.h"

#include <cmath>

namespace wavechroma {

namespace {

constexpr int kPairs[3][2] = {{0, 1}, {1, 2}, {0, 2}}; // of ColorModel::root's columns

/// The roots' three values, by the model itself: a matrix of nothing but one of them.
Vector3 rootsOf(const BalancedRgb &c)
{
    ColorModel only;
    only.root = identity();
    return vectorOf(baseXyzFromBalanced(only, c));
}

/// The balanced RGB that the model takes to the D50 white, by Newton's steps from (1, 1, 1); there the roots
/// are nearly flat, so that the matrix is nearly the derivative.
std::optional<Vector3> whiteOf(const ColorModel &model)
{
    const auto back = inverse(model.matrix);
    if (!back)
        return std::nullopt;
    Vector3 n{1, 1, 1};
    for (int round = 0; round < 60; ++round) {
        const Xyz got = baseXyzFromBalanced(model, {n[0], n[1], n[2]});
        const Vector3 step = *back * Vector3{kD50White.x - got.x, kD50White.y - got.y, kD50White.z - got.z};
        for (size_t c = 0; c < 3; ++c)
            n[c] += step[c];
        if (!(n[0] > 0 && n[1] > 0 && n[2] > 0))
            return std::nullopt;
        if (std::abs(step[0]) + std::abs(step[1]) + std::abs(step[2]) < 1e-15)
            break;
    }
    return n;
}

/// The same model written for c/n, so that (1, 1, 1) is the white. √(n_i n_j) √(c_i c_j) is again the root's
/// difference plus something linear.
ColorModel rebalanced(const ColorModel &model, const Vector3 &n)
{
    ColorModel out = model;
    out.matrix = model.matrix * diagonal(n);
    for (int k = 0; k < 3; ++k) {
        const int i = kPairs[k][0], j = kPairs[k][1];
        const double mean = std::sqrt(n[size_t(i)] * n[size_t(j)]);
        for (int row = 0; row < 3; ++row) {
            out.root(row, k) = model.root(row, k) * mean;
            out.matrix(row, i) += model.root(row, k) * (mean - n[size_t(i)]) / 2;
            out.matrix(row, j) += model.root(row, k) * (mean - n[size_t(j)]) / 2;
        }
    }
    out.exposureScale = model.exposureScale / n[1];
    out.multipliers = {model.multipliers[0] * n[1] / n[0], 1, model.multipliers[2] * n[1] / n[2]};
    return out;
}

} // namespace

std::optional<ColorModel> fitRoot(const std::vector<FittedPatch> &patches, const ColorModel &base,
                                  double ridge, bool near)
{
    Terms terms;
    for (const auto &patch : patches) {
        const auto c = balancedFrom(base, patch.rgb);
        const auto roots = rootsOf(c);
        Eigen::Matrix<double, 3, Eigen::Dynamic> t = Eigen::Matrix<double, 3, Eigen::Dynamic>::Zero(3, 18);
        for (Eigen::Index row = 0; row < 3; ++row) {
            t.block<1, 3>(row, 3 * row) << c.r, c.g, c.b;
            t.block<1, 3>(row, 9 + 3 * row) << roots[0], roots[1], roots[2];
        }
        terms.push_back(t);
    }
    Eigen::VectorXd start(18), penalty = Eigen::VectorXd::Zero(18);
    for (int i = 0; i < 9; ++i) {
        start(i) = base.matrix(i / 3, i % 3);
        start(9 + i) = base.root(i / 3, i % 3);
        penalty(9 + i) = ridge;
    }
    const auto theta = fitTerms(terms, patches, start, {penalty, {}, near});
    ColorModel model = base;
    for (int i = 0; i < 9; ++i) {
        model.matrix(i / 3, i % 3) = theta(i);
        model.root(i / 3, i % 3) = theta(9 + i);
    }
    const auto n = whiteOf(model);
    return n ? std::optional(rebalanced(model, *n)) : std::nullopt;
}

} // namespace wavechroma
