#include "core/fit/fit_matrix.h"

#include "core/base/least_squares.h"
#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/fit/fit_terms.h"

#include <Eigen/Core>
#include <cmath>

namespace wavechroma {

namespace {

using Entries = Eigen::Matrix<double, 9, 1>;

LinearModel modelOf(const Entries &a)
{
    LinearModel model;
    for (int row = 0; row < 3; ++row)
        for (int column = 0; column < 3; ++column)
            model.xyzFromCamera(row, column) = a(3 * row + column);
    return model;
}

/// Weighted least squares in XYZ; 1/(Y + 0.06) stands in for Lab's steeper response to dark colours.
std::optional<Entries> weightedStart(const std::vector<FittedPatch> &patches)
{
    const auto count = Eigen::Index(patches.size());
    Eigen::MatrixXd rgb(count, 3), xyz(count, 3);
    for (Eigen::Index i = 0; i < count; ++i) {
        const auto &p = patches[size_t(i)];
        const double w = std::sqrt(p.weight) / (p.reference.y + 0.06);
        rgb.row(i) << w * p.rgb.r, w * p.rgb.g, w * p.rgb.b;
        xyz.row(i) << w * p.reference.x, w * p.reference.y, w * p.reference.z;
    }
    const auto solved = count < 4 ? std::nullopt : soundLeastSquares(rgb, xyz, 1e-6);
    if (!solved)
        return std::nullopt;
    const Eigen::Matrix3d a = solved->transpose();
    Entries entries;
    for (int row = 0; row < 3; ++row)
        for (int column = 0; column < 3; ++column)
            entries(3 * row + column) = a(row, column);
    return entries;
}

} // namespace

double de2000Of(const FittedPatch &patch, const LinearModel &model)
{
    return de2000(labFromXyz(xyzOf(model.xyzFromCamera * vectorOf(patch.rgb))), labFromXyz(patch.reference));
}

double meanDe2000(const std::vector<FittedPatch> &patches, const LinearModel &model)
{
    double sum = 0, weights = 0;
    for (const auto &patch : patches) {
        sum += patch.weight * de2000Of(patch, model);
        weights += patch.weight;
    }
    return weights > 0 ? sum / weights : 0;
}

std::optional<LinearModel> fitLeastSquares(const std::vector<FittedPatch> &patches)
{
    const auto entries = weightedStart(patches);
    return entries ? std::optional(modelOf(*entries)) : std::nullopt;
}

std::optional<LinearModel> fitLinear(const std::vector<FittedPatch> &patches, const LinearModel *start)
{
    Entries entries;
    if (start) {
        for (int i = 0; i < 9; ++i)
            entries(i) = start->xyzFromCamera(i / 3, i % 3);
    } else if (const auto first = weightedStart(patches)) {
        entries = *first;
    } else {
        return std::nullopt;
    }
    Terms terms;
    for (const auto &patch : patches) {
        terms.emplace_back(Eigen::Matrix<double, 3, Eigen::Dynamic>::Zero(3, 9));
        for (Eigen::Index row = 0; row < 3; ++row)
            terms.back().block<1, 3>(row, 3 * row) << patch.rgb.r, patch.rgb.g, patch.rgb.b;
    }
    return modelOf(fitTerms(terms, patches, entries, {{}, {}, start != nullptr}));
}

std::optional<ColorModel> splitAtWhite(const LinearModel &model)
{
    const auto back = inverse(model.xyzFromCamera);
    if (!back)
        return std::nullopt;
    const Vector3 neutral = *back * vectorOf(kD50White); // camera RGB of a perfect diffuser
    if (!(neutral[0] > 0 && neutral[1] > 0 && neutral[2] > 0))
        return std::nullopt;
    ColorModel split;
    split.multipliers = {neutral[1] / neutral[0], 1, neutral[1] / neutral[2]};
    split.exposureScale = 1 / neutral[1];
    split.matrix = model.xyzFromCamera * diagonal(neutral);
    return split;
}

LinearModel joined(const Vector3 &multipliers, double exposureScale, const Matrix3 &matrix)
{
    return {matrix * diagonal({multipliers[0] * exposureScale, multipliers[1] * exposureScale,
                               multipliers[2] * exposureScale})};
}

std::optional<ColorModel> fitMatrixPart(const PartFit &fit, const ColorModel &)
{
    const auto start =
        fit.near ? std::optional(joined(fit.near->multipliers, fit.near->exposureScale, fit.near->matrix))
                 : std::nullopt;
    const auto fitted = fitLinear(fit.patches, start ? &*start : nullptr);
    return fitted ? splitAtWhite(*fitted) : std::nullopt;
}

} // namespace wavechroma
