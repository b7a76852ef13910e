#pragma once
#include "core/values/fitted_patch.h"

#include <vector>

#include <Eigen/Dense>

namespace wavechroma {

/// A model that is linear in its parameters: XYZ of patch i = terms[i] · θ (+ fixed[i]). Only for this
/// folder's sources.
using Terms = std::vector<Eigen::Matrix<double, 3, Eigen::Dynamic>>;

struct TermsOptions
{
    Eigen::VectorXd ridge;                   ///< per parameter, ΔE² per patch for θ² = 1; empty: none
    std::vector<Eigen::Vector3d> fixed = {}; ///< per patch; empty: none
    bool near = false; ///< the start is close, so that the first step (ΔE² itself) is left out
};

/// The θ with the least weighted mean CIEDE2000 to the patches' references, from `start`: least ΔE² first,
/// then iteratively reweighted least squares on ΔE. Each round minimises Σ w ΔE²/ΔE_previous (Weiszfeld's
/// majorisation of a sum of lengths: the mean never rises), by Levenberg–Marquardt with exact derivatives.
[[nodiscard]] Eigen::VectorXd fitTerms(const Terms &terms, const std::vector<FittedPatch> &patches,
                                       const Eigen::VectorXd &start, const TermsOptions &options = {});

} // namespace wavechroma
