#include "core/fit/part_roots.h"

#include "core/fit/fit_terms.h"

#include <algorithm>
#include <cmath>

namespace wavechroma {

namespace {

constexpr int kPairs[3][2] = {{0, 1}, {1, 2}, {0, 2}}; // of the roots' columns

/// What draws the roots towards none, all patches together. Twenty-four patches cannot choose it: leaving
/// some out judges the hull's corners, not the colours between. Measured on unseen surfaces
/// (wavechroma-bench-model): a tenth of it to three times it are within 3 %, a weaker one follows glare and
/// noise, a stronger one is a matrix again.
constexpr double kRootPrior = 24;

/// √(xy) − (x + y)/2, with no root of a negative product.
double rootDifference(double x, double y)
{
    return (x > 0 && y > 0 ? std::sqrt(x * y) : 0) - (std::max(x, 0.0) + std::max(y, 0.0)) / 2;
}

Xyz applyRoots(std::span<const double> n, const BalancedRgb &toned, const Xyz &xyz)
{
    const auto r = rootDifferences(toned);
    return {xyz.x + n[0] * r[0] + n[1] * r[1] + n[2] * r[2], xyz.y + n[3] * r[0] + n[4] * r[1] + n[5] * r[2],
            xyz.z + n[6] * r[0] + n[7] * r[1] + n[8] * r[2]};
}

words::Phrase faultOfRoots(std::span<const double>)
{
    return {};
}

std::vector<double> &numbersIn(ColorModel &model)
{
    for (auto &bend : model.bends)
        if (bend.how == &rootBending())
            return bend.numbers;
    return model.bends.emplace_back(Bend{&rootBending(), std::vector<double>(9, 0.0)}).numbers;
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
        const Xyz got = xyzFromBalanced(model, {n[0], n[1], n[2]});
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
    auto &roots = numbersIn(out);
    for (size_t k = 0; k < 3; ++k) {
        const int i = kPairs[k][0], j = kPairs[k][1];
        const double mean = std::sqrt(n[size_t(i)] * n[size_t(j)]);
        for (int row = 0; row < 3; ++row) {
            const double root = roots[size_t(3 * row) + k];
            roots[size_t(3 * row) + k] = root * mean;
            out.matrix(row, i) += root * (mean - n[size_t(i)]) / 2;
            out.matrix(row, j) += root * (mean - n[size_t(j)]) / 2;
        }
    }
    out.exposureScale = model.exposureScale / n[1];
    out.multipliers = {model.multipliers[0] * n[1] / n[0], 1, model.multipliers[2] * n[1] / n[2]};
    return out;
}

/// Matrix and roots, the white free to move; it is put back by what it moved.
std::optional<ColorModel> fitWhiteFree(const PartFit &fit, ColorModel model)
{
    Terms terms;
    for (const auto &patch : fit.patches) {
        const auto c = balancedFrom(model, patch.rgb);
        const auto roots = rootDifferences(c);
        Eigen::Matrix<double, 3, Eigen::Dynamic> t = Eigen::Matrix<double, 3, Eigen::Dynamic>::Zero(3, 18);
        for (Eigen::Index row = 0; row < 3; ++row) {
            t.block<1, 3>(row, 3 * row) << c.r, c.g, c.b;
            t.block<1, 3>(row, 9 + 3 * row) << roots[0], roots[1], roots[2];
        }
        terms.push_back(t);
    }
    auto &numbers = numbersIn(model);
    Eigen::VectorXd start(18), penalty = Eigen::VectorXd::Zero(18);
    for (int i = 0; i < 9; ++i) {
        start(i) = model.matrix(i / 3, i % 3);
        start(9 + i) = numbers[size_t(i)];
        penalty(9 + i) = kRootPrior / double(fit.patches.size());
    }
    const auto theta = fitTerms(terms, fit.patches, start, {penalty, {}, fit.near != nullptr});
    for (int i = 0; i < 9; ++i) {
        model.matrix(i / 3, i % 3) = theta(i);
        numbers[size_t(i)] = theta(9 + i);
    }
    const auto n = whiteOf(model);
    return n ? std::optional(rebalanced(model, *n)) : std::nullopt;
}

/// Behind tone curves (1, 1, 1) has to stay: M = W g + a (r − g) + b (b − g), six numbers, and the roots.
std::optional<ColorModel> fitWhiteKept(const PartFit &fit, ColorModel model)
{
    Terms terms;
    TermsOptions options;
    options.near = fit.near != nullptr;
    options.ridge = Eigen::VectorXd::Zero(15);
    const Eigen::Vector3d white{kD50White.x, kD50White.y, kD50White.z};
    for (const auto &patch : fit.patches) {
        const auto c = tonedFrom(model, balancedFrom(model, patch.rgb));
        const auto roots = rootDifferences(c);
        Eigen::Matrix<double, 3, Eigen::Dynamic> t = Eigen::Matrix<double, 3, Eigen::Dynamic>::Zero(3, 15);
        for (Eigen::Index row = 0; row < 3; ++row) {
            t(row, row) = c.r - c.g;
            t(row, 3 + row) = c.b - c.g;
            t.block<1, 3>(row, 6 + 3 * row) << roots[0], roots[1], roots[2];
        }
        terms.push_back(t);
        options.fixed.emplace_back(c.g * white);
    }
    auto &numbers = numbersIn(model);
    Eigen::VectorXd theta(15);
    for (int row = 0; row < 3; ++row) {
        theta(row) = model.matrix(row, 0);
        theta(3 + row) = model.matrix(row, 2);
    }
    for (int i = 0; i < 9; ++i) {
        theta(6 + i) = numbers[size_t(i)];
        options.ridge(6 + i) = kRootPrior / double(fit.patches.size());
    }
    theta = fitTerms(terms, fit.patches, theta, options);
    for (int row = 0; row < 3; ++row) {
        model.matrix(row, 0) = theta(row);
        model.matrix(row, 2) = theta(3 + row);
        model.matrix(row, 1) = white(row) - theta(row) - theta(3 + row);
    }
    for (int i = 0; i < 9; ++i)
        numbers[size_t(i)] = theta(6 + i);
    return inverse(model.matrix) ? std::optional(model) : std::nullopt;
}

} // namespace

Vector3 rootDifferences(const BalancedRgb &c)
{
    return {rootDifference(c.r, c.g), rootDifference(c.g, c.b), rootDifference(c.r, c.b)};
}

const Bending &rootBending()
{
    static const Bending roots{
        "roots", {{}, "matrix", {{"x", 3}, {"y", 3}, {"z", 3}}, 1}, applyRoots, faultOfRoots};
    return roots;
}

std::optional<ColorModel> fitRootsPart(const PartFit &fit, const ColorModel &base)
{
    const auto &start = fit.near ? *fit.near : base;
    return start.curves.empty() ? fitWhiteFree(fit, start) : fitWhiteKept(fit, start);
}

} // namespace wavechroma
