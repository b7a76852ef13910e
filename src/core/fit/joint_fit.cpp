#include "core/fit/joint_fit.h"

#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/fit/part_roots.h"

#include <Eigen/Cholesky>
#include <algorithm>
#include <cmath>

namespace wavechroma {

namespace {

using Eigen::Matrix3d;
using Eigen::MatrixXd;
using Eigen::Vector3d;
using Eigen::VectorXd;

constexpr int kMatrix = 6, kRoots = 9;       ///< numbers of a correction
constexpr double kLeaderRidge = 1e9;         ///< so that its numbers stay 0
constexpr double kRidge = 4, kRootRidge = 2; ///< ΔE for a coefficient of 1, of the mean
constexpr double kShortest = 0.3;            ///< ΔE: below it lengths count by their squares
constexpr int kRounds = 5;

Vector3d vectorFrom(const Xyz &xyz)
{
    return {xyz.x, xyz.y, xyz.z};
}

/// ΔE2000 about a colour as a form: |form · ΔXYZ| is the difference of a small step.
Matrix3d formAt(const Xyz &color)
{
    const auto reference = labFromXyz(color);
    const auto partsOf = [&](const Xyz &xyz) {
        const auto lab = labFromXyz(xyz);
        const auto parts =
            de2000Components<double>({lab.l, lab.a, lab.b}, {reference.l, reference.a, reference.b});
        return Vector3d(parts[0], parts[1], parts[2]);
    };
    Matrix3d out;
    const double step = 1e-4;
    for (int axis = 0; axis < 3; ++axis) {
        auto up = color, down = color;
        (axis == 0 ? up.x : axis == 1 ? up.y : up.z) += step;
        (axis == 0 ? down.x : axis == 1 ? down.y : down.z) -= step;
        out.col(axis) = (partsOf(up) - partsOf(down)) / (2 * step);
    }
    return out;
}

/// What a correction's numbers do to XYZ: a matrix whose rows sum to 0 keeps the white.
JointFit::Terms termsOf(const BalancedRgb &c, bool hasRoots)
{
    JointFit::Terms out = JointFit::Terms::Zero(3, hasRoots ? kMatrix + kRoots : kMatrix);
    const double first = c.r - c.g, second = c.b - c.g;
    const auto roots = rootDifferences(c);
    for (int row = 0; row < 3; ++row) {
        out(row, 2 * row) = first;
        out(row, 2 * row + 1) = second;
        for (int k = 0; hasRoots && k < 3; ++k)
            out(row, kMatrix + 3 * row + k) = roots[size_t(k)];
    }
    return out;
}

ColorModel corrected(const ColorModel &model, const VectorXd &numbers)
{
    auto out = model;
    for (int row = 0; row < 3; ++row) {
        out.matrix(row, 0) += numbers(2 * row);
        out.matrix(row, 2) += numbers(2 * row + 1);
        out.matrix(row, 1) -= numbers(2 * row) + numbers(2 * row + 1);
    }
    for (auto &bend : out.bends)
        for (size_t k = 0; bend.how == &rootBending() && k < size_t(kRoots); ++k)
            bend.numbers[k] += numbers(kMatrix + int(k));
    return out;
}

} // namespace

JointFit::JointFit(const std::vector<ColorModel> &models, const std::vector<SeenByMany> &seen,
                   std::optional<size_t> leader, double trust)
    : m_models(models), m_leader(leader), m_trust(trust)
{
    for (size_t s = 0; s < models.size(); ++s) {
        m_start.push_back(m_size);
        m_size += sizeOf(s);
    }
    m_ridge = VectorXd::Constant(m_size, kRidge);
    for (size_t s = 0; s < models.size(); ++s)
        m_ridge.segment(m_start[s] + kMatrix, sizeOf(s) - kMatrix).setConstant(kRootRidge);
    if (leader)
        m_ridge.segment(m_start[*leader], sizeOf(*leader)).setConstant(kLeaderRidge);
    for (const auto &one : seen)
        add(one);
    shareOut();
}

int JointFit::sizeOf(size_t station) const
{
    return m_models[station].bend(rootBending()) ? kMatrix + kRoots : kMatrix;
}

VectorXd JointFit::numbersOf(const VectorXd &all, size_t station) const
{
    return all.segment(m_start[station], sizeOf(station));
}

std::vector<ColorModel> JointFit::solved(const Agreement &weights, const std::vector<double> &hold) const
{
    VectorXd numbers = VectorXd::Zero(m_size);
    for (int round = 0; round < kRounds; ++round) {
        System system{MatrixXd::Zero(m_size, m_size), VectorXd::Zero(m_size)};
        for (const auto &length : m_lengths)
            addTo(system, length, numbers,
                  length.kind == Kind::Reference ? hold[length.station]
                  : length.kind == Kind::Middle  ? weights.middles
                                                 : weights.pairs);
        system.sum.diagonal() += m_ridge;
        numbers = system.sum.ldlt().solve(system.side);
    }
    std::vector<ColorModel> out;
    for (size_t s = 0; s < m_models.size(); ++s)
        out.push_back(corrected(m_models[s], numbersOf(numbers, s)));
    return out;
}

void JointFit::addTo(System &system, const Length &length, const VectorXd &numbers, double weight) const
{
    const bool isPair = length.kind == Kind::Pair;
    const auto a = m_start[length.station], n = sizeOf(length.station);
    Vector3d now = length.off + length.terms * numbersOf(numbers, length.station);
    if (isPair)
        now -= length.otherTerms * numbersOf(numbers, length.other);
    const double share = weight * length.share / std::max(kShortest, now.norm());
    system.sum.block(a, a, n, n) += share * length.terms.transpose() * length.terms;
    system.side.segment(a, n) -= share * length.terms.transpose() * length.off;
    if (!isPair)
        return;
    const auto b = m_start[length.other], m = sizeOf(length.other);
    system.sum.block(b, b, m, m) += share * length.otherTerms.transpose() * length.otherTerms;
    system.sum.block(a, b, n, m) -= share * length.terms.transpose() * length.otherTerms;
    system.sum.block(b, a, m, n) -= share * length.otherTerms.transpose() * length.terms;
    system.side.segment(b, m) += share * length.otherTerms.transpose() * length.off;
}

Xyz JointFit::middleOf(const std::vector<Sight> &sights) const
{
    Vector3d sum = Vector3d::Zero();
    for (const auto &sight : sights) {
        if (sight.station == m_leader)
            return sight.xyz;
        sum += vectorFrom(sight.xyz);
    }
    sum /= double(sights.size());
    return {sum.x(), sum.y(), sum.z()};
}

void JointFit::add(const SeenByMany &one)
{
    std::vector<Sight> sights;
    for (size_t s = 0; s < m_models.size(); ++s)
        if (one.rgb[s]) {
            const auto &model = m_models[s];
            const auto terms =
                termsOf(tonedFrom(model, balancedFrom(model, *one.rgb[s])), sizeOf(s) > kMatrix);
            sights.push_back({s, xyzFromCamera(model, *one.rgb[s]), terms});
        }
    if (sights.empty())
        return;
    const auto middle = middleOf(sights);
    const Matrix3d between = formAt(middle);
    const auto addTowards = [&](Kind kind, const Sight &sight, const Xyz &aim) {
        const Matrix3d form = formAt(aim);
        m_lengths.push_back({kind,
                             sight.station,
                             0,
                             form * sight.terms,
                             {},
                             form * (vectorFrom(sight.xyz) - vectorFrom(aim))});
    };
    for (auto sight = sights.begin(); sight != sights.end(); ++sight) {
        if (const auto &reference = one.reference[sight->station])
            addTowards(Kind::Reference, *sight, *reference);
        if (one.isThing)
            addTowards(Kind::Middle, *sight, middle);
        for (auto other = sights.begin(); other != sight; ++other)
            m_lengths.push_back({Kind::Pair, sight->station, other->station, between * sight->terms,
                                 between * other->terms,
                                 between * (vectorFrom(sight->xyz) - vectorFrom(other->xyz)),
                                 one.isThing ? m_trust : 1 - m_trust});
    }
}

/// Each kind is a mean.
void JointFit::shareOut()
{
    std::vector<double> references(m_models.size(), 0);
    double middles = 0, pairs = 0;
    const auto sumOf = [&](const Length &length) -> double & {
        return length.kind == Kind::Pair     ? pairs
               : length.kind == Kind::Middle ? middles
                                             : references[length.station];
    };
    for (const auto &length : m_lengths)
        sumOf(length) += length.share;
    for (auto &length : m_lengths)
        length.share /= sumOf(length) * (length.kind == Kind::Reference ? double(m_models.size()) : 1);
}

} // namespace wavechroma
