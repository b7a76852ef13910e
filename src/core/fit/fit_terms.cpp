#include "core/fit/fit_terms.h"

#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/color/lab_function.h"

#include <algorithm>
#include <ceres/jet.h>
#include <ceres/tiny_solver.h>
#include <cmath>

namespace wavechroma {

namespace {

using Jet = ceres::Jet<double, 3>;

/// √w ΔE components of all patches and √ridge θ, with their derivatives: by XYZ with dual numbers, from there
/// on linear.
struct WeightedDifference
{
    using Scalar = double;
    enum { NUM_RESIDUALS = Eigen::Dynamic, NUM_PARAMETERS = Eigen::Dynamic };

    const Terms &terms;
    const std::vector<Eigen::Vector3d> &fixed;
    const Eigen::VectorXd &ridge;
    std::vector<Lab> reference;
    std::vector<double> rootWeight;
    int parameters;

    WeightedDifference(const Terms &t, const std::vector<Eigen::Vector3d> &f,
                       const std::vector<FittedPatch> &patches, const Eigen::VectorXd &r, int count)
        : terms(t), fixed(f), ridge(r), parameters(count)
    {
        for (const auto &patch : patches) {
            reference.push_back(labFromXyz(patch.reference));
            rootWeight.push_back(std::sqrt(patch.weight));
        }
    }
    [[nodiscard]] Eigen::Vector3d xyzOf(size_t i, const Eigen::VectorXd &theta) const
    {
        const Eigen::Vector3d xyz = terms[i] * theta;
        return fixed.empty() ? xyz : xyz + fixed[i];
    }
    [[nodiscard]] double differenceOf(size_t i, const Eigen::VectorXd &theta) const
    {
        const auto xyz = xyzOf(i, theta);
        return de2000(labFromXyz({xyz(0), xyz(1), xyz(2)}), reference[i]);
    }
    [[nodiscard]] int NumParameters() const { return parameters; }
    [[nodiscard]] int NumResiduals() const { return int(3 * terms.size() + size_t(ridge.size())); }

    bool operator()(const double *theta, double *residuals, double *jacobian) const
    {
        const Eigen::VectorXd p = Eigen::Map<const Eigen::VectorXd>(theta, parameters);
        const Eigen::Index rows = NumResiduals();
        Eigen::Map<Eigen::MatrixXd> j(jacobian, jacobian ? rows : 0, jacobian ? parameters : 0);
        for (size_t i = 0; i < terms.size(); ++i) {
            const Eigen::Vector3d xyz = xyzOf(i, p);
            const Jet x(xyz(0), 0), y(xyz(1), 1), z(xyz(2), 2);
            const Jet fx = labFunction<Jet>(x / kD50White.x), fy = labFunction<Jet>(y / kD50White.y),
                      fz = labFunction<Jet>(z / kD50White.z);
            const auto difference =
                de2000Components<Jet>({116.0 * fy - 16.0, 500.0 * (fx - fy), 200.0 * (fy - fz)},
                                      {Jet(reference[i].l), Jet(reference[i].a), Jet(reference[i].b)});
            for (Eigen::Index k = 0; k < 3; ++k) {
                const Eigen::Index row = 3 * Eigen::Index(i) + k;
                residuals[row] = rootWeight[i] * difference[size_t(k)].a;
                if (jacobian)
                    j.row(row) = rootWeight[i] * difference[size_t(k)].v.transpose() * terms[i];
            }
        }
        for (Eigen::Index k = 0; k < ridge.size(); ++k) {
            const Eigen::Index row = 3 * Eigen::Index(terms.size()) + k;
            residuals[row] = std::sqrt(ridge(k)) * p(k);
            if (jacobian) {
                j.row(row).setZero();
                j(row, k) = std::sqrt(ridge(k));
            }
        }
        return true;
    }
};

} // namespace

Eigen::VectorXd fitTerms(const Terms &terms, const std::vector<FittedPatch> &patches,
                         const Eigen::VectorXd &start, const TermsOptions &options)
{
    // Σ w ΔE + ½ n ridge θ²: what a round minimises is twice that around the last answer
    const Eigen::VectorXd ridge = options.ridge * double(patches.size());
    WeightedDifference function(terms, options.fixed, patches, ridge, int(start.size()));
    ceres::TinySolver<WeightedDifference> solver;
    solver.options.gradient_tolerance = 1e-12;
    Eigen::VectorXd theta = start;
    solver.options.max_num_iterations = 30;
    if (!options.near)
        solver.Solve(function, &theta); // plain ΔE² first: a smooth way into the right valley
    const auto cost = [&](const Eigen::VectorXd &t) {
        double sum = 0;
        for (size_t i = 0; i < patches.size(); ++i)
            sum += patches[i].weight * function.differenceOf(i, t);
        return sum + (ridge.size() ? 0.5 * ridge.dot(t.cwiseAbs2()) : 0);
    };
    double best = cost(theta);
    Eigen::VectorXd bestTheta = theta;
    solver.options.max_num_iterations = 3; // a round's weights are not worth more: the next ones differ
    for (int round = options.near ? 12 : 0; round < 60;
         ++round) { // a start is near: its weights are right from the beginning
        // A length near zero would get an unbounded weight; the floor shrinks as the rounds go on.
        const double floor = std::max(0.01, 0.3 * std::pow(0.8, round));
        for (size_t i = 0; i < patches.size(); ++i)
            function.rootWeight[i] =
                std::sqrt(patches[i].weight / std::max(floor, function.differenceOf(i, theta)));
        solver.Solve(function, &theta);
        const double now = cost(theta), gain = best - now;
        if (now < best) {
            best = now;
            bestTheta = theta;
        }
        if (gain < (options.near ? 3e-5 : 1e-5) * best && floor <= 0.02)
            break;
    }
    return bestTheta;
}

} // namespace wavechroma
