#include "core/fit/recommend.h"

#include "core/base/number_text.h"

#include <algorithm>
#include <fmt/format.h>

namespace wavechroma {

namespace {

constexpr double kWorthIt = 0.96, kMostStretch = 3, kLeastStretch = 0.25, kMostSensitive = 0.5;
constexpr double kMuchFlare = 0.02;

bool isSound(const Calibration &c)
{
    const auto &f = c.figures;
    return f.mostStretch <= kMostStretch && f.leastStretch >= kLeastStretch && f.sensitivity <= kMostSensitive * std::max(0.5, c.crossValidated.mean);
}

/// The parts a model is made of, as steps away from a matrix.
bool isRicherThanMatrix(const Calibration &c)
{
    return c.model != "balance" && c.model != "matrix";
}

std::string doubtOf(const Calibration &c, const Reading &reading)
{
    for (const auto &check : reading.checks)
        for (const char *id : {"flare", "evenness", "glare", "obstruction", "match", "clipping", "underexposure"})
            if (check.id == id && check.severity != Severity::Ok)
                return check.id == "evenness" ? "the light was uneven" : check.id == "flare" ? "there was flare" : check.id == "glare" ? "there was glare" : check.id == "obstruction" ? "patches were hidden" : check.id == "match" ? "the colours hardly fit the chart" : check.id == "clipping" ? "patches were burnt out" : "patches were too dark";
    if (c.takenOut.flare > kMuchFlare)
        return "flare of " + percentText(c.takenOut.flare, 1) + " had to be taken out";
    if (!c.takenOut.patches.empty())
        return "spoilt patches had to be left out";
    return {};
}

} // namespace

Recommendation recommendationOf(const std::vector<Calibration> &calibrations, const Reading &reading)
{
    Recommendation out;
    const auto doubt = doubtOf(calibrations.front(), reading);
    const Calibration *best = nullptr, *richest = nullptr;
    for (const auto &c : calibrations) {
        if (!isSound(c))
            continue;
        if (isRicherThanMatrix(c) && !doubt.empty()) {
            if (best && c.crossValidated.mean < kWorthIt * best->crossValidated.mean)
                richest = &c;
            continue;
        }
        if (!best || c.crossValidated.mean < kWorthIt * best->crossValidated.mean)
            best = &c;
    }
    if (!best)
        best = &calibrations.front();
    out.index = size_t(best - calibrations.data());
    const auto unseen = fixedText(best->crossValidated.mean, 2);
    const auto matrix = std::find_if(calibrations.begin(), calibrations.end(), [](const auto &c) { return c.model == "matrix"; });
    if (richest)
        out.why = fmt::format("{} is the honest choice: {}, and a richer model would follow that.", best->model, doubt);
    else if (isRicherThanMatrix(*best) && matrix != calibrations.end())
        out.why = fmt::format("{} errs by {} on patches it has not seen, {} less than the matrix.", best->model, unseen, percentText(1 - best->crossValidated.mean / matrix->crossValidated.mean));
    else
        out.why = fmt::format("{} errs by {} on patches it has not seen, and nothing richer does clearly better.", best->model, unseen);
    return out;
}

} // namespace wavechroma
