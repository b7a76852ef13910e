#include "core/fit/fit_matrix.h"

#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/color/lab_function.h"

#include <Eigen/Dense>
#include <ceres/tiny_solver.h>
#include <ceres/tiny_solver_autodiff_function.h>
#include <cmath>

namespace wavechroma {

namespace {

template <class T> std::array<T, 3> labOf(const std::array<T, 3> &xyz)
{
    const T fx = labFunction<T>(xyz[0] / kD50White.x), fy = labFunction<T>(xyz[1] / kD50White.y),
            fz = labFunction<T>(xyz[2] / kD50White.z);
    return {116.0 * fy - 16.0, 500.0 * (fx - fy), 200.0 * (fy - fz)};
}

/// √w ΔE components of all patches, as functions of the nine entries of A relative to the start: each row is scaled by
/// the light's size there, so that the solver's steps are of like size.
struct WeightedDifference {
    const std::vector<FittedPatch> &patches;
    std::vector<Vector3> reference; // Lab
    std::vector<double> rootWeight;

    explicit WeightedDifference(const std::vector<FittedPatch> &p) : patches(p), rootWeight(p.size(), 1)
    {
        for (const auto &patch : p) {
            const Lab lab = labFromXyz(patch.reference);
            reference.push_back({lab.l, lab.a, lab.b});
        }
    }
    [[nodiscard]] int NumResiduals() const { return int(patches.size()) * 3; }

    template <class T> bool operator()(const T *a, T *residuals) const
    {
        for (size_t i = 0; i < patches.size(); ++i) {
            const Vector3 rgb = vectorOf(patches[i].rgb);
            std::array<T, 3> xyz;
            for (size_t row = 0; row < 3; ++row)
                xyz[row] = a[3 * row] * rgb[0] + a[3 * row + 1] * rgb[1] + a[3 * row + 2] * rgb[2];
            const auto difference = de2000Components<T>(
                labOf<T>(xyz), {T(reference[i][0]), T(reference[i][1]), T(reference[i][2])});
            for (size_t k = 0; k < 3; ++k)
                residuals[3 * i + k] = rootWeight[i] * difference[k];
        }
        return true;
    }
};

using Entries = Eigen::Matrix<double, 9, 1>;

LinearModel modelOf(const Entries &a)
{
    LinearModel model;
    for (int row = 0; row < 3; ++row)
        for (int column = 0; column < 3; ++column)
            model.xyzFromCamera(row, column) = a(3 * row + column);
    return model;
}

/// Weighted least squares in XYZ; 1/(Y + 0.06) stands in for Lab's steeper response to dark colours. QR: the normal
/// equations lose four digits on a 24-patch chart.
std::optional<Entries> leastSquares(const std::vector<FittedPatch> &patches)
{
    const auto count = Eigen::Index(patches.size());
    Eigen::MatrixXd rgb(count, 3), xyz(count, 3);
    for (Eigen::Index i = 0; i < count; ++i) {
        const auto &p = patches[size_t(i)];
        const double w = 1 / (p.reference.y + 0.06);
        rgb.row(i) << w * p.rgb.r, w * p.rgb.g, w * p.rgb.b;
        xyz.row(i) << w * p.reference.x, w * p.reference.y, w * p.reference.z;
    }
    auto qr = rgb.colPivHouseholderQr();
    qr.setThreshold(1e-6);
    if (count < 4 || qr.rank() < 3)
        return std::nullopt;
    const Eigen::Matrix3d a = qr.solve(xyz).transpose();
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
    double sum = 0;
    for (const auto &patch : patches)
        sum += de2000Of(patch, model);
    return patches.empty() ? 0 : sum / double(patches.size());
}

std::optional<LinearModel> fitLeastSquares(const std::vector<FittedPatch> &patches)
{
    const auto entries = leastSquares(patches);
    return entries ? std::optional(modelOf(*entries)) : std::nullopt;
}

std::optional<LinearModel> fitLinear(const std::vector<FittedPatch> &patches, const LinearModel *start)
{
    Entries entries;
    if (start) {
        for (int i = 0; i < 9; ++i)
            entries(i) = start->xyzFromCamera(i / 3, i % 3);
    } else if (const auto first = leastSquares(patches)) {
        entries = *first;
    } else {
        return std::nullopt;
    }
    WeightedDifference difference(patches);
    using Function = ceres::TinySolverAutoDiffFunction<WeightedDifference, Eigen::Dynamic, 9>;
    Function function(difference);
    ceres::TinySolver<Function> solver;
    solver.options.max_num_iterations = 30;
    solver.options.gradient_tolerance = 1e-12;
    if (!start)
        solver.Solve(function, &entries); // plain ΔE² first: a smooth way into the right valley

    double best = meanDe2000(patches, modelOf(entries));
    Entries bestEntries = entries;
    solver.options.max_num_iterations = 8;
    for (int round = start ? 12 : 0; round < 60; ++round) { // a start is near: its weights are right from the beginning
        // A length near zero would get an unbounded weight; the floor shrinks as the rounds go on.
        const double floor = std::max(0.01, 0.3 * std::pow(0.8, round));
        const auto model = modelOf(entries);
        for (size_t i = 0; i < patches.size(); ++i)
            difference.rootWeight[i] = 1 / std::sqrt(std::max(floor, de2000Of(patches[i], model)));
        solver.Solve(function, &entries);
        const double mean = meanDe2000(patches, modelOf(entries));
        const double gain = best - mean;
        if (mean < best) {
            best = mean;
            bestEntries = entries;
        }
        if (gain < 1e-5 * best && floor <= 0.02)
            break;
    }
    return modelOf(bestEntries);
}

std::optional<SplitModel> splitAtWhite(const LinearModel &model)
{
    const auto back = inverse(model.xyzFromCamera);
    if (!back)
        return std::nullopt;
    const Vector3 neutral = *back * vectorOf(kD50White); // camera RGB of a perfect diffuser
    if (!(neutral[0] > 0 && neutral[1] > 0 && neutral[2] > 0))
        return std::nullopt;
    SplitModel split;
    split.multipliers = {neutral[1] / neutral[0], 1, neutral[1] / neutral[2]};
    split.exposureScale = 1 / neutral[1];
    split.matrix = model.xyzFromCamera * diagonal(neutral);
    return split;
}

LinearModel joined(const Vector3 &multipliers, double exposureScale, const Matrix3 &matrix)
{
    return {matrix * diagonal({multipliers[0] * exposureScale, multipliers[1] * exposureScale, multipliers[2] * exposureScale})};
}

} // namespace wavechroma
