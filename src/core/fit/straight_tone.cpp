#include "core/fit/straight_tone.h"

#include "core/base/least_squares.h"

#include <algorithm>
#include <cmath>
#include <optional>

namespace wavechroma {

namespace {

constexpr double kDarkest = 1e-4, kBrightest = 2; // Y that a curve is asked for
constexpr Eigen::Index kFewestGreys = 4;

/// log value = offset + slope x + bend x², x = log Y.
struct Curve
{
    double offset = 0, slope = 1, bend = 0;
    [[nodiscard]] double at(double x) const { return offset + x * (slope + bend * x); }
    [[nodiscard]] bool rises() const
    {
        return slope + 2 * bend * std::log(kDarkest) > 0.1 && slope + 2 * bend * std::log(kBrightest) > 0.1;
    }
    /// Y whose value this is, by halving: the curve rises.
    [[nodiscard]] double inverse(double value) const
    {
        double low = std::log(kDarkest), high = std::log(kBrightest);
        const double wanted = std::log(std::max(value, 1e-9));
        for (int i = 0; i < 40; ++i) {
            const double middle = (low + high) / 2;
            (at(middle) < wanted ? low : high) = middle;
        }
        return std::exp((low + high) / 2);
    }
};

std::optional<Curve> curveOf(const std::vector<const PlacedPatch *> &neutrals, size_t channel)
{
    const auto count = Eigen::Index(neutrals.size());
    if (count < kFewestGreys)
        return std::nullopt;
    Eigen::MatrixXd terms(count, 3);
    Eigen::VectorXd values(count);
    for (Eigen::Index i = 0; i < count; ++i) {
        const auto &patch = neutrals[size_t(i)]->patch;
        const double x = std::log(std::max(kDarkest, patch.reference.y));
        terms.row(i) << 1, x, x * x;
        values(i) = std::log(std::max(1e-9, vectorOf(patch.rgb)[channel]));
    }
    const Eigen::VectorXd numbers = leastSquares(terms, values);
    const Curve curve{numbers(0), numbers(1), numbers(2)};
    return curve.rises() ? std::optional(curve) : std::nullopt;
}

} // namespace

std::vector<PlacedPatch> withStraightTone(const std::vector<PlacedPatch> &patches,
                                          const std::vector<std::string> &neutral)
{
    std::vector<const PlacedPatch *> neutrals;
    for (const auto &patch : patches)
        if (std::find(neutral.begin(), neutral.end(), patch.patch.id) != neutral.end())
            neutrals.push_back(&patch);
    std::array<std::optional<Curve>, 3> curves;
    for (size_t c = 0; c < 3; ++c)
        curves[c] = curveOf(neutrals, c);
    if (!curves[0] || !curves[1] || !curves[2])
        return patches;
    auto out = patches;
    for (auto &patch : out) {
        const auto seen = vectorOf(patch.patch.rgb);
        // at the level that it had at Y 1, so that limits in shares of saturation stay what they are
        const auto straight = [&](size_t c) {
            return curves[c]->inverse(seen[c]) * std::exp(curves[c]->at(0));
        };
        patch.patch.rgb = {straight(0), straight(1), straight(2)};
    }
    return out;
}

} // namespace wavechroma
