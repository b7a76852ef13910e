#include "core/fit/recommend.h"

#include "core/base/number_text.h"

#include <algorithm>
#include <fmt/format.h>

namespace wavechroma {

namespace {

constexpr double kWorthIt = 0.96, kRootCredit = 1.1, kMostStretch = 3, kLeastStretch = 0.25,
                 kMostSensitive = 0.5;
constexpr double kMuchFlare = 0.02;

bool isSound(const Calibration &c)
{
    const auto &f = c.figures;
    return f.mostStretch <= kMostStretch && f.leastStretch >= kLeastStretch &&
           f.sensitivity <= kMostSensitive * std::max(0.5, c.crossValidated.mean);
}

/// The parts a model is made of, as steps away from a matrix.
bool isRicherThanMatrix(const Calibration &c)
{
    return c.model != "balance" && c.model != "matrix";
}

std::string doubtOf(const Calibration &c, const Reading &reading)
{
    for (const auto &check : reading.checks)
        for (const char *id :
             {"flare", "evenness", "glare", "obstruction", "match", "clipping", "underexposure"})
            if (check.id == id && check.severity != Severity::Ok)
                return check.id == "evenness"      ? "the light was uneven"
                       : check.id == "flare"       ? "there was flare"
                       : check.id == "glare"       ? "there was glare"
                       : check.id == "obstruction" ? "patches were hidden"
                       : check.id == "match"       ? "the colours hardly fit the chart"
                       : check.id == "clipping"    ? "patches were burnt out"
                                                   : "patches were too dark";
    if (c.takenOut.flare > kMuchFlare)
        return "flare of " + percentText(c.takenOut.flare, 1) + " had to be taken out";
    if (!c.takenOut.patches.empty())
        return "spoilt patches had to be left out";
    return {};
}

} // namespace

/// The error that models are compared by. See the header for the root polynomial's credit.
static double scoreOf(const Calibration &c)
{
    return c.model == "root-polynomial" ? c.crossValidated.mean / kRootCredit : c.crossValidated.mean;
}

static bool isBetter(const Calibration &c, const Calibration &best)
{
    return scoreOf(c) < (c.model == "root-polynomial" ? 1 : kWorthIt) * scoreOf(best);
}

static std::string reasonFor(const Calibration &best, const std::vector<const Calibration *> &calibrations)
{
    const auto unseen = fixedText(best.crossValidated.mean, 2);
    const auto at = std::find_if(calibrations.begin(), calibrations.end(),
                                 [](const auto *c) { return c->model == "matrix"; });
    const auto *matrix = at == calibrations.end() ? nullptr : *at;
    if (!isRicherThanMatrix(best) || !matrix)
        return fmt::format(
            "{} errs by {} on patches it has not seen, and nothing richer does clearly better.", best.model,
            unseen);
    const auto *rival = matrix; // the one that a reader of the table would rather have taken
    for (const auto *c : calibrations)
        if (c != &best && isSound(*c) && c->crossValidated.mean < rival->crossValidated.mean)
            rival = c;
    if (best.model == "root-polynomial" && best.crossValidated.mean >= kWorthIt * rival->crossValidated.mean)
        return fmt::format(
            "{} does about as well as {} on unseen patches ({} and {}), and better between them.", best.model,
            rival->model, unseen, fixedText(rival->crossValidated.mean, 2));
    return fmt::format("{} errs by {} on patches it has not seen, {} less than the matrix.", best.model,
                       unseen, percentText(1 - best.crossValidated.mean / matrix->crossValidated.mean));
}

Recommendation recommendationOf(const std::vector<const Calibration *> &calibrations, const Reading &reading)
{
    Recommendation out;
    const auto doubt = doubtOf(*calibrations.front(), reading);
    const Calibration *best = nullptr;
    bool isHeldBack = false;
    for (size_t i = 0; i < calibrations.size(); ++i) {
        const auto &c = *calibrations[i];
        if (!isSound(c) || (best && !isBetter(c, *best)))
            continue;
        if (isRicherThanMatrix(c) && !doubt.empty()) {
            isHeldBack = best != nullptr;
            continue;
        }
        best = &c;
        out.index = i;
    }
    if (!best)
        best = calibrations.front();
    out.why = isHeldBack ? fmt::format("{} is the honest choice: {}, and a richer model would follow that.",
                                       best->model, doubt)
                         : reasonFor(*best, calibrations);
    return out;
}

Recommendation recommendationOf(const std::vector<Calibration> &calibrations, const Reading &reading)
{
    std::vector<const Calibration *> all;
    for (const auto &c : calibrations)
        all.push_back(&c);
    return recommendationOf(all, reading);
}

} // namespace wavechroma
