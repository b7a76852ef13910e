#include "core/fit/tone_curves.h"

#include "core/base/least_squares.h"
#include "core/color/lab.h"
#include "core/fit/fit_terms.h"

#include <algorithm>
#include <cmath>

namespace wavechroma {

namespace {

constexpr int kKnots = 8, kSteps = 77; // codes 0 … 1.2 in steps of kToneStep
constexpr double kReach = (kSteps - 1) * kToneStep;
constexpr double kDoubt = 0.005, kBlackDoubt = 0.01,
                 kLevelDoubt = 3; // of a neutral, of black, of the gain's logarithm
constexpr size_t kFewestNeutrals = 4;
using Shape = Eigen::Matrix<double, kKnots + 1, 1>; ///< a(0), then g at the knots

struct Point
{
    double value = 0, wanted = 0, weight = 1;
};

double codeOf(double value)
{
    return labFromXyz({value * kD50White.x, value, value * kD50White.z}).l / 100;
}

ToneCurve curveOf(const Shape &shape)
{
    ToneCurve curve{{shape(0)}};
    double slope = std::exp(shape(1));
    for (int i = 1; i < kSteps; ++i) {
        const double at = double(i) / (kSteps - 1) * (kKnots - 1);
        const int k = std::min(int(at), kKnots - 2);
        const double next = std::exp(shape(1 + k) + (at - k) * (shape(2 + k) - shape(1 + k)));
        curve.values.push_back(curve.values.back() + kToneStep * (slope + next) / 2);
        slope = next;
    }
    return curve;
}

Eigen::VectorXd residualsOf(const Shape &shape, const std::vector<Point> &points, double stiffness)
{
    const auto curve = curveOf(shape);
    Eigen::VectorXd r(Eigen::Index(points.size()) + kKnots + 1);
    Eigen::Index row = 0;
    for (const auto &p : points)
        r(row++) = std::sqrt(p.weight) * (codeOf(toned(curve, p.value)) - codeOf(p.wanted)) / kDoubt;
    r(row++) = shape(0) / kBlackDoubt;
    r(row++) = shape.tail<kKnots>().mean() / kLevelDoubt;
    for (int k = 1; k < kKnots; ++k)
        r(row++) = (shape(k + 1) - shape(k)) / stiffness;
    return r;
}

/// Gauss–Newton, with differences for derivatives: nine numbers and a handful of neutrals.
ToneCurve fitCurve(const std::vector<Point> &points, double stiffness)
{
    Shape shape = Shape::Zero();
    double cost = residualsOf(shape, points, stiffness).squaredNorm();
    for (int round = 0; round < 25; ++round) {
        const auto r = residualsOf(shape, points, stiffness);
        Eigen::MatrixXd j(r.size(), kKnots + 1);
        for (int k = 0; k <= kKnots; ++k) {
            Shape moved = shape;
            moved(k) += 1e-6;
            j.col(k) = (residualsOf(moved, points, stiffness) - r) / 1e-6;
        }
        Shape step = leastSquares(j, r);
        double next = cost;
        for (int halving = 0; halving < 8; ++halving, step /= 2)
            if ((next = residualsOf(shape - step, points, stiffness).squaredNorm()) < cost)
                break;
        if (!(next < cost))
            break;
        shape -= step;
        const bool settled = cost - next < 1e-9 * cost;
        cost = next;
        if (settled)
            break;
    }
    return curveOf(shape);
}

/// What each channel should read behind the curves for the neutrals to come out as their references.
std::vector<Point> pointsOf(const std::vector<FittedPatch> &neutrals, const ColorModel &model,
                            const Matrix3 &back, size_t channel)
{
    std::vector<Point> points;
    for (const auto &p : neutrals)
        points.push_back({vectorOf(balancedFrom(model, p.rgb))[channel],
                          (back * vectorOf(p.reference))[channel], p.weight});
    return points;
}

/// Curves with 1 kept at 1: their input is rescaled, and what that took goes to the balance.
bool takeCurves(ColorModel &model, const std::vector<FittedPatch> &neutrals, const CurveOptions &options)
{
    const auto back = inverse(model.matrix);
    if (!back)
        return false;
    std::array<std::vector<Point>, 3> points;
    std::vector<Point> all;
    for (size_t c = 0; c < 3; ++c) {
        points[c] = pointsOf(neutrals, model, *back, c);
        all.insert(all.end(), points[c].begin(), points[c].end());
    }
    Vector3 one{};
    model.curves.clear();
    for (size_t c = 0; c < 3; ++c) {
        const auto curve = options.eachChannel || c == 0
                               ? fitCurve(options.eachChannel ? points[c] : all, options.stiffness)
                               : model.curves.front();
        one[c] = untoned(curve, 1);
        model.curves.push_back(curve);
    }
    if (!(one[0] > 0 && one[1] > 0 && one[2] > 0))
        return false;
    for (size_t c = 0; c < 3; ++c) {
        if (!options.eachChannel && c > 0) {
            model.curves[c] = model.curves[0];
            continue;
        }
        ToneCurve moved;
        for (int i = 0; i < kSteps; ++i) {
            const double code = i * kToneStep, value = xyzFromLab({100 * code, 0, 0}).y;
            moved.values.push_back(codeOf(toned(model.curves[c], value * one[c])));
        }
        model.curves[c] = moved;
    }
    model.exposureScale /= one[1];
    model.multipliers = {model.multipliers[0] * one[1] / one[0], 1, model.multipliers[2] * one[1] / one[2]};
    return true;
}

/// What the patches read behind the curves, as if a camera had seen it.
std::vector<FittedPatch> behindCurves(const std::vector<FittedPatch> &patches, const ColorModel &model)
{
    auto out = patches;
    for (auto &p : out) {
        const auto c = tonedFrom(model, balancedFrom(model, p.rgb));
        p.rgb = {c.r, c.g, c.b};
    }
    return out;
}

/// M with M (1, 1, 1) = W: W g + a (r − g) + b (b − g), six numbers.
Matrix3 whiteKept(const std::vector<FittedPatch> &behind, const Matrix3 &start, bool near)
{
    Terms terms;
    TermsOptions options;
    options.near = near;
    const Eigen::Vector3d white{kD50White.x, kD50White.y, kD50White.z};
    for (const auto &p : behind) {
        Eigen::Matrix<double, 3, Eigen::Dynamic> t = Eigen::Matrix<double, 3, Eigen::Dynamic>::Zero(3, 6);
        for (Eigen::Index row = 0; row < 3; ++row) {
            t(row, row) = p.rgb.r - p.rgb.g;
            t(row, 3 + row) = p.rgb.b - p.rgb.g;
        }
        terms.push_back(t);
        options.fixed.emplace_back(p.rgb.g * white);
    }
    Eigen::VectorXd theta(6);
    for (int row = 0; row < 3; ++row) {
        theta(row) = start(row, 0);
        theta(3 + row) = start(row, 2);
    }
    theta = fitTerms(terms, behind, theta, options);
    Matrix3 m;
    for (int row = 0; row < 3; ++row) {
        m(row, 0) = theta(row);
        m(row, 2) = theta(3 + row);
        m(row, 1) = white(row) - m(row, 0) - m(row, 2);
    }
    return m;
}

} // namespace

std::optional<ColorModel> fitCurves(const std::vector<FittedPatch> &patches, const ColorModel &base,
                                    const CurveOptions &options)
{
    const auto neutrals = patchesNamed(patches, options.neutrals);
    if (neutrals.size() < kFewestNeutrals)
        return std::nullopt;
    ColorModel model = base;
    for (int round = 0; round < 3; ++round)
        if (!takeCurves(model, neutrals, options))
            return std::nullopt;
    return model;
}

std::optional<ColorModel> fitCurvesMatrix(const std::vector<FittedPatch> &patches, const ColorModel &base,
                                          const CurveOptions &options, bool near)
{
    auto model = near ? base : fitCurves(patches, base, options);
    for (int round = 0; model && round < (near ? 1 : 3); ++round) {
        const auto behind = behindCurves(patches, *model);
        const LinearModel start{model->matrix};
        const auto linear = fitLinear(behind, near || round > 0 ? &start : nullptr);
        const auto split = linear ? splitAtWhite(*linear) : std::nullopt;
        if (!split)
            return std::nullopt;
        // the white that this matrix wants behind the curves, carried to before them
        const Vector3 wanted{1 / split->multipliers[0], 1, 1 / split->multipliers[2]};
        Vector3 n{};
        for (size_t c = 0; c < 3; ++c)
            n[c] = untoned(model->curves[c], wanted[c] / split->exposureScale);
        if (!(n[0] > 0 && n[1] > 0 && n[2] > 0))
            return std::nullopt;
        model->multipliers = {model->multipliers[0] * n[1] / n[0], 1, model->multipliers[2] * n[1] / n[2]};
        model->exposureScale /= n[1];
        model->matrix = split->matrix;
        if (!takeCurves(*model, patchesNamed(patches, options.neutrals), options))
            return std::nullopt;
    }
    if (!model)
        return std::nullopt;
    const auto matrix = whiteKept(behindCurves(patches, *model), model->matrix, near);
    if (!inverse(matrix))
        return std::nullopt;
    model->matrix = matrix;
    return model;
}

double chosenStiffness(const std::vector<FittedPatch> &patches, const ColorModel &base,
                       const CurveOptions &options)
{
    const auto neutrals = patchesNamed(patches, options.neutrals);
    const double choices[] = {0.01, 0.05, 0.2, 0.6};
    if (neutrals.size() <= kFewestNeutrals)
        return choices[0];
    double best = 1e9, chosen = choices[0];
    for (const double stiffness : choices) {
        double sum = 0;
        for (size_t left = 0; left < neutrals.size(); ++left) {
            auto others = neutrals;
            others.erase(others.begin() + ptrdiff_t(left));
            CurveOptions one = options;
            one.stiffness = stiffness;
            const auto model = fitCurves(others, base, one);
            sum += model ? std::abs(labFromXyz(xyzFromCamera(*model, neutrals[left].rgb)).l -
                                    labFromXyz(neutrals[left].reference).l)
                         : 100;
        }
        if (sum < 0.95 * best) { // the stiffer one unless the looser is clearly better
            best = sum;
            chosen = stiffness;
        }
    }
    return chosen;
}

static std::optional<ColorModel> fitTone(const PartFit &fit, const ColorModel &base, bool freeMatrix,
                                         bool eachChannel)
{
    CurveOptions options{fit.context.neutrals, eachChannel, 0};
    if (fit.strength.empty())
        fit.strength = {chosenStiffness(fit.patches, base, options)};
    options.stiffness = fit.strength.front();
    if (!freeMatrix)
        return fitCurves(fit.patches, base, options);
    return fitCurvesMatrix(fit.patches, fit.near ? *fit.near : base, options, fit.near != nullptr);
}

std::optional<ColorModel> fitGreysTone(const PartFit &fit, const ColorModel &base, bool freeMatrix)
{
    return fitTone(fit, base, freeMatrix, false);
}

std::optional<ColorModel> fitChannelsTone(const PartFit &fit, const ColorModel &base, bool freeMatrix)
{
    return fitTone(fit, base, freeMatrix, true);
}

} // namespace wavechroma
