#include "core/fit/recommend.h"

#include <algorithm>

namespace wavechroma {

namespace {

constexpr double kWorthIt = 0.96, kMostStretch = 3, kLeastStretch = 0.25, kMostSensitive = 0.5;
constexpr double kMuchFlare = 0.02;

bool isSound(const Calibration &c)
{
    const auto &f = c.figures;
    return f.mostStretch <= kMostStretch && f.leastStretch >= kLeastStretch &&
           f.sensitivity <= kMostSensitive * std::max(0.5, c.crossValidated.mean);
}

std::string doubtOf(const Calibration &c, const Reading &reading)
{
    for (const auto &check : reading.checks)
        if (check.severity != Severity::Ok && rowOf(check.id).holdsColourBack)
            return nameOf(check.id);
    if (c.takenOut.flare > kMuchFlare)
        return "taken-flare";
    return c.takenOut.patches.empty() ? "" : "taken-patches";
}

const Calibration *plainAmong(const std::vector<const Calibration *> &calibrations)
{
    for (const auto *c : calibrations)
        if (c->parts == plainParts())
            return c;
    return nullptr;
}

/// What decided for `best`, beside what a reader of the plane would rather have taken.
void explain(Recommendation &out, const Calibration &best, const std::vector<const Calibration *> &all)
{
    const auto *rival = plainAmong(all);
    if (!isBeyondMatrix(best.parts) || !rival)
        return;
    out.why = Recommendation::Why::ClearlyBetter;
    const auto *least = rival;
    for (const auto *c : all)
        if (c != &best && isSound(*c) && c->crossValidated.mean < least->crossValidated.mean)
            least = c;
    if (creditOf(best.parts) > 1 && best.crossValidated.mean >= kWorthIt * least->crossValidated.mean) {
        out.why = Recommendation::Why::Credit;
        rival = least;
    }
    out.rival = rival->parts;
    out.rivalUnseen = rival->crossValidated.mean;
}

} // namespace

double creditOf(const Parts &parts)
{
    const auto *part = colourPart(parts.colour);
    return part ? part->credit : 1;
}

bool isWorthIt(const Parts &parts, double unseen, const Parts &than, double thanUnseen)
{
    const double credit = creditOf(parts), other = creditOf(than);
    return unseen / credit < (credit > other ? 1 : kWorthIt) * thanUnseen / other;
}

bool mayBeRecommended(const Calibration &calibration, const Reading &reading)
{
    return isSound(calibration) &&
           (!isBeyondMatrix(calibration.parts) || doubtOf(calibration, reading).empty());
}

Recommendation recommendationOf(const std::vector<const Calibration *> &calibrations, const Reading &reading)
{
    Recommendation out;
    const auto doubt = doubtOf(*calibrations.front(), reading);
    const Calibration *best = nullptr;
    bool isHeldBack = false;
    for (size_t i = 0; i < calibrations.size(); ++i) {
        const auto &c = *calibrations[i];
        if (!isSound(c) ||
            (best && !isWorthIt(c.parts, c.crossValidated.mean, best->parts, best->crossValidated.mean)))
            continue;
        if (isBeyondMatrix(c.parts) && !doubt.empty()) {
            isHeldBack = best != nullptr;
            continue;
        }
        best = &c;
        out.index = i;
    }
    if (!best)
        best = calibrations.front();
    out.parts = best->parts;
    out.unseen = best->crossValidated.mean;
    explain(out, *best, calibrations);
    if (isHeldBack) {
        out.why = Recommendation::Why::HeldBack;
        out.doubt = doubt;
        out.flare = calibrations.front()->takenOut.flare;
    }
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
