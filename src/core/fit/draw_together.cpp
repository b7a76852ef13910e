#include "core/fit/draw_together.h"

#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/fit/joint_fit.h"

#include <algorithm>
#include <map>
#include <memory>

namespace wavechroma {

namespace {

constexpr size_t kLeftOutInTurn = 12;
constexpr double kManyThings = 16; ///< so many say as much of things that nobody saw as a chart's patches do
constexpr double kAgreementAlone = 300; ///< a weight beside which truth hardly counts
constexpr int kHoldRounds = 10;
constexpr double kHoldMore = 1.4;
constexpr double kWeights[] = {0.3, 0.6, 1, 2, 3, 5, 8};

std::vector<SeenByMany> commonOf(const std::vector<DrawnStation> &stations,
                                 const std::vector<SharedThing> &things)
{
    std::map<std::string, SeenByMany> patches;
    for (size_t s = 0; s < stations.size(); ++s)
        for (const auto &patch : stations[s].patches) {
            auto &one = patches[patch.id];
            one.id = patch.id;
            one.rgb.resize(stations.size());
            one.reference.resize(stations.size());
            one.rgb[s] = patch.rgb;
            one.reference[s] = patch.reference;
        }
    std::vector<SeenByMany> out;
    for (auto &[id, one] : patches)
        out.push_back(std::move(one));
    for (const auto &thing : things)
        out.push_back({thing.id, true, thing.rgb, std::vector<std::optional<Xyz>>(stations.size())});
    return out;
}

std::optional<size_t> leaderOf(const std::vector<DrawnStation> &stations)
{
    const auto found =
        std::find_if(stations.begin(), stations.end(), [](const auto &s) { return s.isLeader; });
    return found == stations.end() ? std::nullopt : std::optional(size_t(found - stations.begin()));
}

/// Few things say little of those that nobody saw.
double trustIn(const std::vector<SeenByMany> &all)
{
    const double things =
        double(std::count_if(all.begin(), all.end(), [](const auto &one) { return one.isThing; }));
    return things * things / (things * things + kManyThings * kManyThings);
}

/// Errors and spreads of what was left out, summed up.
struct LeftOut
{
    std::vector<double> errors, counts; ///< by station
    double spread = 0, pairs = 0, things = 0, thingPairs = 0;

    explicit LeftOut(size_t stations) : errors(stations, 0), counts(stations, 0) {}

    void add(const SeenByMany &one, const std::vector<ColorModel> &models)
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
    std::vector<SeenByMany> left;
    std::unique_ptr<JointFit> fit;
};

Result<std::vector<Fold>> foldsOf(const std::vector<DrawnStation> &stations,
                                  const std::vector<SeenByMany> &all, const Progress &progress)
{
    std::vector<Fold> out;
    for (size_t fold = 0; fold < kLeftOutInTurn; ++fold) {
        if (progress.stopped())
            return unusable("drawing together: stopped");
        progress.at(0.6 * double(fold) / kLeftOutInTurn, "leaving patches and things out in turn");
        Fold one;
        std::vector<SeenByMany> kept;
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
        one.fit = std::make_unique<JointFit>(one.models, kept, leaderOf(stations), trustIn(all));
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

/// At one agreement: stations that give up more than their share are held nearer to their own truth, until
/// none does.
Tried triedAt(const JointFit::Agreement &weights, const std::vector<Fold> &folds, const LeftOut &apart,
              double give)
{
    const size_t stations = apart.errors.size();
    Tried out{LeftOut(stations), std::vector<double>(stations, 1)};
    for (int round = 0; round < kHoldRounds; ++round) {
        out.left =
            judged(folds, stations, [&](const Fold &fold) { return fold.fit->solved(weights, out.hold); });
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
    const auto leader = leaderOf(stations);
    const double trust = trustIn(all);
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
        const auto tried = triedAt({weight, weight * trust}, *folds, apart, give);
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
    if (out.weight > 0)
        out.models = JointFit(*own, all, leader, trust).solved({out.weight, out.weight * trust}, hold);
    out.nearest = JointFit(*own, all, leader, 0.5)
                      .solved({kAgreementAlone, 0}, std::vector<double>(stations.size(), 1));
    return out;
}

} // namespace wavechroma
