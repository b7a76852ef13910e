#include "core/fit/fit_offset.h"

#include "core/fit/fit_terms.h"

namespace wavechroma {

static constexpr double kPrior = 0.02, kTypicalError = 1; // ΔE that a veil of one prior may cost a patch

std::optional<ColorModel> fitOffset(const std::vector<FittedPatch> &patches, const ColorModel &base,
                                    bool near)
{
    Terms terms;
    for (const auto &patch : patches) {
        const auto c = balancedFrom(base, patch.rgb);
        Eigen::Matrix<double, 3, Eigen::Dynamic> t = Eigen::Matrix<double, 3, Eigen::Dynamic>::Zero(3, 10);
        for (Eigen::Index row = 0; row < 3; ++row)
            t.block<1, 3>(row, 3 * row) << c.r, c.g, c.b;
        t.col(9) << kD50White.x, kD50White.y, kD50White.z;
        terms.push_back(t);
    }
    Eigen::VectorXd start(10), ridge = Eigen::VectorXd::Zero(10);
    for (int i = 0; i < 9; ++i)
        start(i) = (1 - base.offset) * base.matrix(i / 3, i % 3);
    start(9) = base.offset;
    ridge(9) = kTypicalError / (kPrior * kPrior) / double(patches.size());
    const auto theta = fitTerms(terms, patches, start, {ridge, {}, near});
    // XYZ = A c + k W. With n = A⁻¹ (1 − k) W and M = A diag(n)/(1 − k) that is M ((1 − k) c/n + k), and M
    // (1, 1, 1) = W.
    const double k = theta(9);
    Matrix3 a;
    for (int i = 0; i < 9; ++i)
        a(i / 3, i % 3) = theta(i) / (1 - k);
    if (!(k > -0.2 && k < 0.5))
        return std::nullopt;
    auto model = splitAtWhite(joined(base.multipliers, base.exposureScale, a));
    if (model)
        model->offset = k;
    return model;
}

} // namespace wavechroma
