#include "core/fit/model_figures.h"

#include "core/color/rgb_space.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <functional>
#include <numbers>

namespace wavechroma {

namespace {

using Mapping = std::function<CompressedLab(const CompressedLab &)>;
using Counts = std::function<bool(const CompressedLab &)>;

Eigen::Matrix3d eigenOf(const Matrix3 &m)
{
    Eigen::Matrix3d out;
    for (int i = 0; i < 9; ++i)
        out(i / 3, i % 3) = m(i / 3, i % 3);
    return out;
}

Eigen::Matrix3d derivativeOf(const Mapping &mapping, const CompressedLab &at)
{
    Eigen::Matrix3d j;
    constexpr double kStep = 0.05;
    for (int axis = 0; axis < 3; ++axis) {
        const double d[] = {axis == 0 ? kStep : 0, axis == 1 ? kStep : 0, axis == 2 ? kStep : 0};
        const auto up = mapping({at.l + d[0], at.a + d[1], at.b + d[2]}),
                   down = mapping({at.l - d[0], at.a - d[1], at.b - d[2]});
        j.col(axis) = Eigen::Vector3d(up.l - down.l, up.a - down.a, up.b - down.b) / (2 * kStep);
    }
    return j;
}

Stretch countedStretch(const Mapping &mapping, const Counts &counts)
{
    Stretch out;
    for (int l = 0; l < 9; ++l)
        for (int h = 0; h < 12; ++h)
            for (int c = 0; c < 5; ++c) {
                const double hue = h * std::numbers::pi / 6, chroma = 2 + 6 * c;
                const CompressedLab at{15.0 + 10 * l, chroma * std::cos(hue), chroma * std::sin(hue)};
                if (!counts(at))
                    continue;
                const auto j = derivativeOf(mapping, at);
                Eigen::SelfAdjointEigenSolver<Eigen::Matrix3d> squares;
                squares.computeDirect(j.transpose() * j, Eigen::EigenvaluesOnly);
                const double least = std::sqrt(std::max(0.0, squares.eigenvalues()(0)));
                out.most = std::max(out.most, std::sqrt(squares.eigenvalues()(2)));
                out.least = std::min(out.least, j.determinant() > 0 ? least : -least);
            }
    return out;
}

} // namespace

Stretch stretchOf(const Mapping &mapping)
{
    return countedStretch(mapping, [](const CompressedLab &) { return true; });
}

Stretch stretchOf(const ColorModel &model, const ColorModel &plain)
{
    if (model.bends.empty() && model.lean == ColourLean{})
        return {};
    ColorModel bare = model;
    bare.curves.clear();
    const auto back = inverse(plain.matrix);
    if (!back)
        return {1, 0};
    Vector3 change{}; // from one white balance to the other's
    for (size_t i = 0; i < 3; ++i)
        change[i] = model.multipliers[i] / plain.multipliers[i];
    const auto balancedOf = [&](const CompressedLab &p) {
        return diagonal(change) * *back * vectorOf(xyzFromCompressed(p));
    };
    return countedStretch(
        Mapping([&](const CompressedLab &p) {
            const auto c = balancedOf(p);
            return compressedFromXyz(xyzFromBalanced(bare, {c[0], c[1], c[2]}));
        }),
        [&](const CompressedLab &p) {
            const auto c = balancedOf(p);
            const double least =
                0.1 * std::max({c[0], c[1], c[2]}); // and where one gives next to nothing, roots are steep
            return c[0] > least && c[1] > least && c[2] > least;
        });
}

double noiseGainOf(const Matrix3 &matrix)
{
    const Eigen::Matrix3d toSrgb = eigenOf(*inverse(xyzD50FromRgbMatrix(srgb())) * matrix);
    return toSrgb.rowwise().norm().mean();
}

double conditionOf(const Matrix3 &matrix)
{
    const Eigen::Matrix3d relative =
        Eigen::Vector3d(1 / kD50White.x, 1 / kD50White.y, 1 / kD50White.z).asDiagonal() * eigenOf(matrix);
    const auto values = Eigen::JacobiSVD<Eigen::Matrix3d>(relative).singularValues();
    return values(2) > 0 ? values(0) / values(2) : 1e9;
}

} // namespace wavechroma
