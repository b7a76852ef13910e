#include "core/fit/draw_together.h"

#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/fit/part_roots.h"

#include <Eigen/Cholesky>
#include <Eigen/Core>
#include <algorithm>
#include <cmath>
#include <map>
#include <memory>

namespace wavechroma {

namespace {

using Eigen::Matrix3d;
using Eigen::MatrixXd;
using Eigen::Vector3d;
using Eigen::VectorXd;

constexpr size_t kLeftOutInTurn = 12;
constexpr int kMatrix = 6, kRoots = 9;       ///< numbers of a correction
constexpr double kAgreementAlone = 300;      ///< a weight beside which truth hardly counts
constexpr double kLeaderRidge = 1e9;         ///< so that its numbers stay 0
constexpr double kRidge = 4, kRootRidge = 2; ///< ΔE for a coefficient of 1, of the mean
constexpr double kShortest = 0.3;            ///< ΔE: below it lengths count by their squares
constexpr int kJointRounds = 5;
constexpr int kHoldRounds = 7;
constexpr double kHoldMore = 1.7;
constexpr double kWeights[] = {0.3, 0.6, 1, 2, 3, 5, 8};

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
MatrixXd termsOf(const BalancedRgb &c, bool hasRoots)
{
    MatrixXd out = MatrixXd::Zero(3, hasRoots ? kMatrix + kRoots : kMatrix);
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

/// A patch or a thing, as the stations see it.
struct Common
{
    std::string id;
    bool isThing = false;
    std::vector<std::optional<CameraRgb>> rgb;
    std::vector<std::optional<Xyz>> reference; ///< by station; of things none
};

std::vector<Common> commonOf(const std::vector<DrawnStation> &stations,
                             const std::vector<SharedThing> &things)
{
    std::map<std::string, Common> patches;
    for (size_t s = 0; s < stations.size(); ++s)
        for (const auto &patch : stations[s].patches) {
            auto &one = patches[patch.id];
            one.id = patch.id;
            one.rgb.resize(stations.size());
            one.reference.resize(stations.size());
            one.rgb[s] = patch.rgb;
            one.reference[s] = patch.reference;
        }
    std::vector<Common> out;
    for (auto &[id, one] : patches)
        out.push_back(std::move(one));
    for (const auto &thing : things)
        out.push_back({thing.id, true, thing.rgb, std::vector<std::optional<Xyz>>(stations.size())});
    return out;
}

/// One difference of the problem, |off + Σ terms · numbers|: of a station to a reference, or of two stations.
struct Length
{
    size_t station = 0;
    std::optional<size_t> other;
    MatrixXd terms, otherTerms;
    Vector3d off;
    double share = 0; ///< in the mean
};

class JointFit
{
public:
    JointFit(const std::vector<ColorModel> &models, const std::vector<Common> &seen,
             const std::vector<DrawnStation> &stations)
        : m_models(models)
    {
        for (const auto &model : models) {
            m_start.push_back(m_size);
            m_hasRoots.push_back(model.bend(rootBending()) != nullptr);
            m_size += sizeOf(m_hasRoots.size() - 1);
        }
        m_ridge = VectorXd::Constant(m_size, kRidge);
        for (size_t s = 0; s < models.size(); ++s)
            if (m_hasRoots[s])
                m_ridge.segment(m_start[s] + kMatrix, kRoots).setConstant(kRootRidge);
        for (size_t s = 0; s < models.size(); ++s)
            if (stations[s].isLeader)
                m_ridge.segment(m_start[s], sizeOf(s)).setConstant(kLeaderRidge);
        for (const auto &one : seen)
            add(one);
        std::vector<double> counts(models.size(), 0);
        double pairs = 0;
        for (const auto &length : m_lengths)
            (length.other ? pairs : counts[length.station]) += 1;
        for (auto &length : m_lengths)
            length.share = length.other ? 1 / pairs : 1 / (counts[length.station] * double(models.size()));
    }

    /// The corrected models of that weight: nearly the least sum of lengths, each round of squares over the
    /// lengths of the round before (Weiszfeld 1937). `hold`: by station, how many times its own truth counts.
    [[nodiscard]] std::vector<ColorModel> solved(double weight, const std::vector<double> &hold) const
    {
        VectorXd numbers = VectorXd::Zero(m_size);
        for (int round = 0; round < kJointRounds; ++round) {
            MatrixXd sum = MatrixXd::Zero(m_size, m_size);
            VectorXd side = VectorXd::Zero(m_size);
            for (const auto &length : m_lengths)
                addTo(sum, side, length, numbers, length.other ? weight : hold[length.station]);
            sum.diagonal() += m_ridge;
            numbers = sum.ldlt().solve(side);
        }
        std::vector<ColorModel> out;
        for (size_t s = 0; s < m_models.size(); ++s)
            out.push_back(corrected(m_models[s], numbers.segment(m_start[s], sizeOf(s))));
        return out;
    }

private:
    [[nodiscard]] int sizeOf(size_t s) const { return m_hasRoots[s] ? kMatrix + kRoots : kMatrix; }

    void addTo(MatrixXd &sum, VectorXd &side, const Length &length, const VectorXd &numbers,
               double weight) const
    {
        const auto a = m_start[length.station], n = sizeOf(length.station);
        Vector3d now = length.off + length.terms * numbers.segment(a, n);
        if (length.other)
            now -= length.otherTerms * numbers.segment(m_start[*length.other], sizeOf(*length.other));
        const double share = weight * length.share / std::max(kShortest, now.norm());
        sum.block(a, a, n, n) += share * length.terms.transpose() * length.terms;
        side.segment(a, n) -= share * length.terms.transpose() * length.off;
        if (!length.other)
            return;
        const auto b = m_start[*length.other], m = sizeOf(*length.other);
        sum.block(b, b, m, m) += share * length.otherTerms.transpose() * length.otherTerms;
        sum.block(a, b, n, m) -= share * length.terms.transpose() * length.otherTerms;
        sum.block(b, a, m, n) -= share * length.otherTerms.transpose() * length.terms;
        side.segment(b, m) += share * length.otherTerms.transpose() * length.off;
    }

    void add(const Common &one)
    {
        std::vector<Vector3d> now(m_models.size());
        std::vector<MatrixXd> terms(m_models.size());
        Xyz middle;
        double stations = 0;
        for (size_t s = 0; s < m_models.size(); ++s)
            if (one.rgb[s]) {
                const auto xyz = xyzFromCamera(m_models[s], *one.rgb[s]);
                now[s] = vectorFrom(xyz);
                terms[s] =
                    termsOf(tonedFrom(m_models[s], balancedFrom(m_models[s], *one.rgb[s])), m_hasRoots[s]);
                middle = {middle.x + xyz.x, middle.y + xyz.y, middle.z + xyz.z};
                ++stations;
            }
        if (stations == 0)
            return;
        const Matrix3d between = formAt({middle.x / stations, middle.y / stations, middle.z / stations});
        for (size_t s = 0; s < m_models.size(); ++s) {
            if (!one.rgb[s])
                continue;
            if (one.reference[s]) {
                const Matrix3d form = formAt(*one.reference[s]);
                m_lengths.push_back(
                    {s, {}, form * terms[s], {}, form * (now[s] - vectorFrom(*one.reference[s]))});
            }
            for (size_t r = 0; r < s; ++r)
                if (one.rgb[r])
                    m_lengths.push_back(
                        {s, r, between * terms[s], between * terms[r], between * (now[s] - now[r])});
        }
    }

    std::vector<ColorModel> m_models;
    std::vector<int> m_start;
    std::vector<bool> m_hasRoots;
    int m_size = 0;
    VectorXd m_ridge;
    std::vector<Length> m_lengths;
};

/// Errors and spreads of what was left out, summed up.
struct LeftOut
{
    std::vector<double> errors, counts; ///< by station
    double spread = 0, pairs = 0, things = 0, thingPairs = 0;

    explicit LeftOut(size_t stations) : errors(stations, 0), counts(stations, 0) {}

    void add(const Common &one, const std::vector<ColorModel> &models)
    {
        std::vector<std::optional<Lab>> labs(models.size());
        for (size_t s = 0; s < models.size(); ++s)
            if (one.rgb[s]) {
                labs[s] = labFromXyz(xyzFromCamera(models[s], *one.rgb[s]));
                if (one.reference[s]) {
                    errors[s] += de2000(*labs[s], labFromXyz(*one.reference[s]));
                    ++counts[s];
                }
            }
        for (size_t s = 0; s < models.size(); ++s)
            for (size_t r = 0; r < s; ++r)
                if (labs[s] && labs[r]) {
                    const double apart = de2000(*labs[s], *labs[r]);
                    spread += apart;
                    ++pairs;
                    things += one.isThing ? apart : 0;
                    thingPairs += one.isThing ? 1 : 0;
                }
    }
    [[nodiscard]] double error(size_t s) const { return counts[s] > 0 ? errors[s] / counts[s] : 0; }
    [[nodiscard]] double meanSpread() const { return pairs > 0 ? spread / pairs : 0; }
    [[nodiscard]] double thingSpread() const { return thingPairs > 0 ? things / thingPairs : 0; }
};

std::optional<std::vector<ColorModel>> ownModels(const std::vector<DrawnStation> &stations,
                                                 const std::set<std::string> &without)
{
    std::vector<ColorModel> out;
    for (const auto &station : stations) {
        auto model = station.fit(without);
        if (!model)
            return std::nullopt;
        out.push_back(std::move(*model));
    }
    return out;
}

/// A fold: the stations' own models without it, the joint problem without it, and what it left out.
struct Fold
{
    std::vector<ColorModel> models;
    std::vector<Common> left;
    std::unique_ptr<JointFit> fit;
};

Result<std::vector<Fold>> foldsOf(const std::vector<DrawnStation> &stations, const std::vector<Common> &all,
                                  const Progress &progress)
{
    std::vector<Fold> out;
    for (size_t fold = 0; fold < kLeftOutInTurn; ++fold) {
        if (progress.stopped())
            return unusable("drawing together: stopped");
        progress.at(0.6 * double(fold) / kLeftOutInTurn, "leaving patches and things out in turn");
        Fold one;
        std::vector<Common> kept;
        std::set<std::string> ids;
        for (size_t i = 0; i < all.size(); ++i) {
            const bool isLeft = i % kLeftOutInTurn == fold;
            (isLeft ? one.left : kept).push_back(all[i]);
            if (isLeft && !all[i].isThing)
                ids.insert(all[i].id);
        }
        auto models = ownModels(stations, ids);
        if (one.left.empty() || !models)
            continue;
        one.models = std::move(*models);
        one.fit = std::make_unique<JointFit>(one.models, kept, stations);
        out.push_back(std::move(one));
    }
    return out;
}

LeftOut judged(const std::vector<Fold> &folds, size_t stations,
               const std::function<std::vector<ColorModel>(const Fold &)> &models)
{
    LeftOut out(stations);
    for (const auto &fold : folds) {
        const auto these = models(fold);
        for (const auto &one : fold.left)
            out.add(one, these);
    }
    return out;
}

double grownBy(const LeftOut &now, const LeftOut &apart, size_t station)
{
    return now.error(station) / std::max(1e-9, apart.error(station)) - 1;
}

struct Tried
{
    LeftOut left;
    std::vector<double> hold;
};

/// At one weight: stations that give up more than their share are held nearer to their own truth, until none
/// does.
Tried triedAt(double weight, const std::vector<Fold> &folds, const LeftOut &apart, double give)
{
    const size_t stations = apart.errors.size();
    Tried out{LeftOut(stations), std::vector<double>(stations, 1)};
    for (int round = 0; round < kHoldRounds; ++round) {
        out.left =
            judged(folds, stations, [&](const Fold &fold) { return fold.fit->solved(weight, out.hold); });
        bool isHeld = true;
        for (size_t s = 0; s < stations; ++s)
            if (grownBy(out.left, apart, s) > give) {
                isHeld = false;
                if (round + 1 < kHoldRounds)
                    out.hold[s] *= kHoldMore;
            }
        if (isHeld)
            break;
    }
    return out;
}

} // namespace

Result<DrawnTogether> drawTogether(const std::vector<DrawnStation> &stations,
                                   const std::vector<SharedThing> &things, double give,
                                   const Progress &progress)
{
    const auto all = commonOf(stations, things);
    const auto own = ownModels(stations, {});
    if (stations.size() < 2 || !own)
        return unusable(
            "drawing together needs two stations or more, each with a calibration of its own chart");
    const auto folds = foldsOf(stations, all, progress);
    if (!folds)
        return folds.error();
    const auto apart = judged(*folds, stations.size(), [](const Fold &fold) { return fold.models; });
    DrawnTogether out;
    out.before = out.after = apart.meanSpread();
    out.thingsBefore = out.thingsAfter = apart.thingSpread();
    out.models = *own;
    for (size_t s = 0; s < stations.size(); ++s)
        out.stations.push_back({apart.error(s), apart.error(s)});
    std::vector<double> hold;
    for (const double weight : kWeights) {
        if (progress.stopped())
            return unusable("drawing together: stopped");
        progress.at(0.6 + 0.4 * double(&weight - kWeights) / double(std::size(kWeights)),
                    "weighing agreement against truth");
        const auto tried = triedAt(weight, *folds, apart, give);
        DrawnStep step{weight, tried.left.meanSpread(), 0};
        for (size_t s = 0; s < stations.size(); ++s)
            step.most = std::max(step.most, grownBy(tried.left, apart, s));
        out.curve.push_back(step);
        if (step.most > give || !(step.spread < out.after))
            continue;
        hold = tried.hold;
        out.weight = weight;
        out.after = step.spread;
        out.thingsAfter = tried.left.thingSpread();
        for (size_t s = 0; s < stations.size(); ++s)
            out.stations[s].after = tried.left.error(s);
    }
    const JointFit whole(*own, all, stations);
    if (out.weight > 0)
        out.models = whole.solved(out.weight, hold);
    out.nearest = whole.solved(kAgreementAlone, std::vector<double>(stations.size(), 1));
    return out;
}

} // namespace wavechroma
