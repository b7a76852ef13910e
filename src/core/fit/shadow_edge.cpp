#include "core/fit/shadow_edge.h"

#include "core/base/statistics.h"
#include "core/fit/capture_fit.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <numeric>

namespace wavechroma {

namespace {

constexpr size_t kFewestForEdge = 16;
constexpr int kDirections = 32, kMostCuts = 26;
constexpr double kFloor = 0.06;      ///< added to a luminance before it divides, as in the search
constexpr double kBandCredit = 0.75; ///< two edges must leave this much less than one, for they are rarer
constexpr double kDeepest = 1.0 / 64;

/// What the least squares need of a set of patches, so that two sets are added or taken apart.
struct Sums
{
    Eigen::Matrix3d cross = Eigen::Matrix3d::Zero(); ///< w² L⁻¹ XYZ rgbᵀ: a column a channel
    Eigen::Vector3d squares = Eigen::Vector3d::Zero();
    int count = 0;

    Sums operator-(const Sums &o) const { return {cross - o.cross, squares - o.squares, count - o.count}; }
};

struct Division
{
    std::vector<size_t> dark;
    Eigen::Vector3d share = Eigen::Vector3d::Ones();
    double left = 1e9; ///< squared residuals over squared values, after the division
};

/// All patches prepared: weighted, and their normal matrix N taken apart as L Lᵀ, so that aᵀ N⁻¹ b is a plain
/// product of what was divided by L.
struct Weighted
{
    std::vector<Eigen::Vector3d> xyz, rgb;
    std::vector<double> weight; ///< 0 leaves a patch out
    Eigen::Matrix3d divide;     ///< L⁻¹
    bool prepare()
    {
        Eigen::Matrix3d normal = Eigen::Matrix3d::Zero();
        for (size_t i = 0; i < xyz.size(); ++i)
            normal += weight[i] * weight[i] * xyz[i] * xyz[i].transpose();
        // Cholesky's L by columns, and its inverse: three numbers a side need no library
        const auto &n = normal;
        const double a = std::sqrt(n(0, 0)), b = n(1, 0) / a, c = n(2, 0) / a;
        const double d = std::sqrt(n(1, 1) - b * b), e = (n(2, 1) - c * b) / d;
        const double f = std::sqrt(n(2, 2) - c * c - e * e);
        if (!(a > 0 && d > 1e-6 * a && f > 1e-6 * a)) // roots of less than 0, too
            return false;
        divide << 1 / a, 0, 0, -b / (a * d), 1 / d, 0, (b * e - c * d) / (a * d * f), -e / (d * f), 1 / f;
        return true;
    }
    Sums of(size_t i) const
    {
        const double w = weight[i] * weight[i];
        return {w * (divide * xyz[i]) * rgb[i].transpose(), w * rgb[i].cwiseAbs2(), w > 0 ? 1 : 0};
    }
};

/// The best share of one division, and what it leaves. With t = 1/share a channel's least squares leave
/// R_lit + t² R_dark − (c_lit + t c_dark)ᵀ N⁻¹ (c_lit + t c_dark), a parabola in t.
Division judged(const Sums &lit, const Sums &dark)
{
    Division out;
    double left = 0, total = 0;
    for (int c = 0; c < 3; ++c) {
        const Eigen::Vector3d a = lit.cross.col(c), b = dark.cross.col(c);
        const double ab = a.dot(b), bb = b.dot(b), aa = a.dot(a);
        const double bend = dark.squares(c) - bb;
        const double t = std::clamp(bend > 0 ? ab / bend : 1.0, kDeepest, 1 / kDeepest);
        out.share(c) = 1 / t;
        const double channel = lit.squares(c) + t * t * dark.squares(c);
        left += std::max(0.0, channel - aa - 2 * t * ab - t * t * bb) / channel;
        total += 1;
    }
    out.left = left / total;
    return out;
}

/// Every division of the patches across one direction.
void searchDirection(const Weighted &all, const std::vector<double> &along, Division &best)
{
    std::vector<size_t> order(along.size());
    std::iota(order.begin(), order.end(), size_t(0));
    std::sort(order.begin(), order.end(), [&](size_t a, size_t b) { return along[a] < along[b]; });
    // cuts between patches that do not lie level; at most some two dozen of them
    std::vector<size_t> cuts{0};
    const size_t stride = std::max<size_t>(1, order.size() / kMostCuts);
    for (size_t i = 1; i < order.size(); ++i)
        if (along[order[i]] - along[order[i - 1]] > 0.02 && i - cuts.back() >= stride)
            cuts.push_back(i);
    cuts.push_back(order.size());
    std::vector<Sums> until(order.size() + 1);
    for (size_t i = 0; i < order.size(); ++i) {
        const auto one = all.of(order[i]);
        until[i + 1] = {until[i].cross + one.cross, until[i].squares + one.squares,
                        until[i].count + one.count};
    }
    const auto &whole = until.back();
    const int fewest = std::max(3, whole.count / 10);
    for (size_t i = 0; i + 1 < cuts.size(); ++i)
        for (size_t j = i + 1; j < cuts.size(); ++j) {
            const auto inner = until[cuts[j]] - until[cuts[i]];
            if (inner.count < fewest || whole.count - inner.count < fewest)
                continue;
            const bool isBand = cuts[i] != 0 && cuts[j] != order.size();
            auto division = judged(whole - inner, inner);
            if (isBand)
                division.left /= kBandCredit;
            if (division.left >= best.left)
                continue;
            division.dark.assign(order.begin() + ptrdiff_t(cuts[i]), order.begin() + ptrdiff_t(cuts[j]));
            best = std::move(division);
        }
}

Division bestDivision(const Weighted &all, const std::vector<PlacedPatch> &patches, int directions)
{
    Division best;
    std::vector<double> along(patches.size());
    for (int d = 0; d < directions; ++d) {
        const double angle = std::numbers::pi * d / directions;
        for (size_t i = 0; i < patches.size(); ++i)
            along[i] = std::cos(angle) * patches[i].u + std::sin(angle) * patches[i].v;
        searchDirection(all, along, best);
    }
    return best;
}

/// Leaves out what the division explains least.
void dropWorst(Weighted &all, const Division &best)
{
    std::vector<Eigen::Vector3d> rgb = all.rgb;
    for (const size_t i : best.dark)
        rgb[i] = rgb[i].cwiseQuotient(best.share);
    Eigen::Matrix3d cross = Eigen::Matrix3d::Zero();
    for (size_t i = 0; i < rgb.size(); ++i)
        cross += all.weight[i] * all.weight[i] * all.xyz[i] * rgb[i].transpose();
    const Eigen::Matrix3d b = (all.divide.transpose() * (all.divide * cross)).transpose();
    const Eigen::Vector3d white = (b * kPaperWhite).cwiseAbs().cwiseMax(1e-9);
    std::vector<double> residuals;
    for (size_t i = 0; i < rgb.size(); ++i)
        residuals.push_back(all.weight[i] * (b * all.xyz[i] - rgb[i]).cwiseQuotient(white).norm());
    auto sorted = residuals;
    const size_t dropped = std::max<size_t>(2, residuals.size() / 12);
    std::nth_element(sorted.begin(), sorted.end() - ptrdiff_t(dropped), sorted.end());
    const double limit = sorted[sorted.size() - dropped];
    for (size_t i = 0; i < residuals.size(); ++i)
        if (residuals[i] >= limit)
            all.weight[i] = 0;
}

void orient(ShadowEdge &edge, const std::vector<PlacedPatch> &patches)
{
    double u[2]{}, v[2]{}, n[2]{};
    for (size_t i = 0; i < patches.size(); ++i) {
        const size_t side = edge.inside[i];
        u[side] += patches[i].u;
        v[side] += patches[i].v;
        ++n[side];
    }
    edge.darkU = u[1] / n[1] - u[0] / n[0];
    edge.darkV = v[1] / n[1] - v[0] / n[0];
}

ShadowEdge edgeOf(const Division &division, const std::vector<PlacedPatch> &patches)
{
    ShadowEdge edge;
    edge.inside.assign(patches.size(), false);
    edge.crossed.assign(patches.size(), false);
    for (const size_t i : division.dark)
        edge.inside[i] = true;
    for (size_t c = 0; c < 3; ++c)
        edge.share[c] = division.share(Eigen::Index(c));
    if (edge.share[1] > 1) { // the other side is the dark one
        edge.inside.flip();
        for (double &share : edge.share)
            share = 1 / share;
    }
    edge.stops = -std::log2(edge.share[1]);
    orient(edge, patches);
    return edge;
}

constexpr CaptureFit::Shape kUnderShadow{CaptureFit::Shape::Plane, true, kTukey / 1.7320508};
constexpr CaptureFit::Shape kSmooth{CaptureFit::Shape::Bent, true, kTukey / 1.7320508};
constexpr int kFewestOfSide = 4;
constexpr double kLeastStep = 0.08; ///< share of the light, what poor sensors make of colours alone
constexpr int kEdgeNumbers = 5;     ///< two of a line, three shares

std::vector<PlacedPatch> dividedBy(std::vector<PlacedPatch> patches, const ShadowEdge &edge)
{
    for (size_t i = 0; i < patches.size(); ++i)
        if (edge.inside[i]) {
            auto rgb = vectorOf(patches[i].patch.rgb);
            for (size_t c = 0; c < 3; ++c)
                rgb[c] = (rgb[c] - edge.veil[c]) / edge.share[c] + edge.veil[c];
            patches[i].patch.rgb = {rgb[0], rgb[1], rgb[2]};
        }
    return patches;
}

/// The shares again, from what the robust fit leaves of the shaded patches: a plane of light and fingers have
/// no say in them then.
void refineShares(ShadowEdge &edge, const CaptureFit &fit)
{
    std::vector<double> ratios[3];
    for (size_t i = 0; i < fit.points.size(); ++i)
        if (edge.inside[i] && fit.residuals[i] < 4 * fit.scatter + 0.1) {
            const Eigen::Vector3d should = fit.expected(fit.points[i]);
            for (size_t c = 0; c < 3; ++c)
                if (const double e = should(Eigen::Index(c)) - edge.veil[c]; e > 0)
                    ratios[c].push_back((fit.points[i].rgb(Eigen::Index(c)) - edge.veil[c]) / e);
        }
    for (size_t c = 0; c < 3; ++c)
        if (ratios[c].size() >= 2)
            edge.share[c] = std::clamp(edge.share[c] * medianOf(ratios[c]), kDeepest, 1.0);
    const Eigen::Vector3d veil = std::max(0.0, fit.flare) * (fit.b * kPaperWhite);
    edge.veil = {veil(0), veil(1), veil(2)};
    edge.stops = -std::log2(edge.share[1]);
}

/// Has each patch a neighbour on the other side?
std::vector<bool> besideEdge(const ShadowEdge &edge, const std::vector<PlacedPatch> &patches)
{
    double pitchU = 2, pitchV = 2;
    for (const auto &a : patches)
        for (const auto &b : patches) {
            if (const double u = std::abs(a.u - b.u); u > 1e-6)
                pitchU = std::min(pitchU, u);
            if (const double v = std::abs(a.v - b.v); v > 1e-6)
                pitchV = std::min(pitchV, v);
        }
    std::vector<bool> out(patches.size());
    for (size_t i = 0; i < patches.size(); ++i)
        for (size_t j = 0; j < patches.size() && !out[i]; ++j)
            out[i] =
                edge.inside[i] != edge.inside[j] && std::hypot((patches[i].u - patches[j].u) / pitchU,
                                                               (patches[i].v - patches[j].v) / pitchV) < 1.6;
    return out;
}

/// Patches beside the edge that come out twice as well on its other side go there: the lines tried lie a
/// little apart.
void moveOver(ShadowEdge &edge, const CaptureFit &fit, const std::vector<PlacedPatch> &patches)
{
    const auto beside = besideEdge(edge, patches);
    for (size_t i = 0; i < beside.size(); ++i) {
        if (!beside[i] || fit.residuals[i] < std::max(4 * fit.scatter, 0.1))
            continue;
        auto there = fit.points[i];
        for (size_t c = 0; c < 3; ++c) {
            double &v = there.rgb(Eigen::Index(c));
            v = (v - edge.veil[c]) * (edge.inside[i] ? edge.share[c] : 1 / edge.share[c]) + edge.veil[c];
        }
        const Eigen::Vector3d should = fit.expected(there);
        if ((there.rgb - should).norm() < 0.5 * (fit.points[i].rgb - should).norm())
            edge.inside[i] = !edge.inside[i];
    }
}

/// A patch that the edge lies on has a level between the two, in its own colour; what is left of it then is
/// its residual.
void markCrossed(ShadowEdge &edge, CaptureFit &fit, const std::vector<PlacedPatch> &patches)
{
    const auto beside = besideEdge(edge, patches);
    for (size_t i = 0; i < fit.points.size(); ++i) {
        if (!beside[i] || fit.residuals[i] < std::max(4 * fit.scatter, 0.08))
            continue;
        const auto &point = fit.points[i];
        const Eigen::Vector3d should = fit.expected(point);
        const double level = should.dot(point.rgb) / should.squaredNorm(); // of what its side should be
        const double left = (point.rgb - level * should).norm() / should.norm();
        const double between = edge.inside[i] ? 1 / edge.share[1] : edge.share[1];
        const bool isBetween =
            between > 1 ? level > 1 && level < 1.1 * between : level < 1 && level > between / 1.1;
        edge.crossed[i] = isBetween && left < std::max(4 * fit.scatter, 0.2);
        if (edge.crossed[i])
            fit.residuals[i] = left;
    }
}

/// How unlikely a smooth light this uneven is, in the criterion's units: normal, with deviations of a quarter
/// for its plane and an eighth for its bend.
double strangenessOf(const CaptureFit &fit)
{
    double sum = 0;
    for (Eigen::Index i = 0; i < fit.shape.gains(); ++i)
        sum += std::pow(fit.gain(i) / (i < 2 ? 0.25 : 0.125), 2);
    return sum;
}

/// Both sides must be there: four patches or more that the edge does not lie on, and two thirds of the
/// smaller side must come out right. What lies on the chart or shines off it does not.
bool hasTwoSides(const ShadowEdge &edge, const CaptureFit &fit)
{
    int count[2]{}, right[2]{};
    for (size_t i = 0; i < edge.inside.size(); ++i)
        if (!edge.crossed[i]) {
            ++count[edge.inside[i]];
            right[edge.inside[i]] += fit.residuals[i] < std::max(3 * fit.scatter, 0.1);
        }
    const bool small = count[1] < count[0];
    return count[small] >= kFewestOfSide && 3 * right[small] >= 2 * count[small];
}

} // namespace

std::optional<ShadowEdge> likeliestShadow(const std::vector<PlacedPatch> &patches)
{
    if (patches.size() < kFewestForEdge)
        return std::nullopt;
    Weighted all;
    for (const auto &p : patches) {
        const auto &xyz = p.patch.reference;
        all.xyz.push_back({xyz.x, xyz.y, xyz.z});
        all.rgb.push_back({p.patch.rgb.r, p.patch.rgb.g, p.patch.rgb.b});
        all.weight.push_back(1 / (xyz.y + kFloor));
    }
    Division best;
    for (int round = 0; round < 2; ++round) {
        if (!all.prepare())
            return std::nullopt;
        best = bestDivision(all, patches, round == 0 ? kDirections / 2 : kDirections);
        if (round == 0 && !best.dark.empty())
            dropWorst(all, best);
    }
    if (best.dark.empty())
        return std::nullopt;
    return edgeOf(best, patches);
}

std::optional<ShadowEdge> shadowOver(const std::vector<PlacedPatch> &patches)
{
    auto edge = likeliestShadow(patches);
    const auto smooth = fitCapture(patches, kSmooth);
    if (!edge || !smooth)
        return std::nullopt;
    std::optional<CaptureFit> under;
    for (int round = 0; round < 4; ++round) {
        under = fitCapture(dividedBy(patches, *edge), kUnderShadow);
        if (!under)
            return std::nullopt;
        refineShares(*edge, *under);
        if (round < 3)
            moveOver(*edge, *under, patches);
    }
    markCrossed(*edge, *under, patches);
    const double scatter = std::min(smooth->scatter, under->scatter);
    const int crossed = int(std::count(edge->crossed.begin(), edge->crossed.end(), true));
    const bool isBetter = schwarzCriterion(*under, scatter, kEdgeNumbers + crossed) + strangenessOf(*under) <
                          schwarzCriterion(*smooth, scatter) + strangenessOf(*smooth);
    const bool standsOut = 1 - edge->share[1] > std::max(3 * under->scatter, kLeastStep);
    return isBetter && standsOut && hasTwoSides(*edge, *under) ? edge : std::nullopt;
}

std::vector<PlacedPatch> withoutShadow(const std::vector<PlacedPatch> &patches, const ShadowEdge &shadow)
{
    const auto divided = dividedBy(patches, shadow);
    std::vector<PlacedPatch> out;
    for (size_t i = 0; i < divided.size(); ++i)
        if (!shadow.crossed[i])
            out.push_back(divided[i]);
    return out;
}

} // namespace wavechroma
