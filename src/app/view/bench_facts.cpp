#include "app/view/bench_facts.h"

#include "core/capture/scale.h"

namespace wavechroma::app {

static void fillProofs(BenchFacts &facts)
{
    facts.proofs.clear();
    for (const auto &calibration : facts.calibrations) {
        const auto proof = proveReading(calibration, *facts.reading);
        facts.proofs.push_back(proof ? *proof : Proof{});
    }
}

BenchFacts benchFacts(const JobState &state, RowId frame)
{
    BenchFacts facts;
    facts.chart = chartCatalogue().front();
    facts.chosenModel = state.title.chosenModel;
    facts.limits = sheetOf(state).proof;
    const auto *row = state.frame(frame);
    if (!row)
        return facts;
    facts.frame = *row;
    for (const auto &lane : lanesOf(state))
        if (row->part == FramePart::Product && std::find(lane.frames.begin(), lane.frames.end(), row) != lane.frames.end())
            facts.warning = chartServing(state, lane, *row).warning;
    const auto *reading = state.readingOf(frame);
    if (!reading)
        return facts;
    facts.reading = reading->reading;
    if (const auto chart = chartOf(*facts.reading))
        facts.chart = *chart;
    if (const auto scale = scaleOf(*facts.reading, facts.chart)) {
        const auto sheet = sheetOf(state);
        const auto verdict = verdictOn(*scale, state.title.intendedPpi, sheet.scaleError, sheet.distortion);
        facts.scale = verdict.words;
        facts.scaleIsGood = verdict.good;
    }
    if (const auto balance = balanceReading(*facts.reading, {}))
        facts.balance = *balance;
    for (const auto &model : knownModels())
        if (const auto *calibration = state.calibrationOf(frame, model))
            facts.calibrations.push_back(calibration->calibration);
    fillProofs(facts);
    return facts;
}

BenchFacts benchFacts(const BenchFacts &before, const StationPass &pass)
{
    BenchFacts facts = before;
    facts.reading = pass.reading;
    facts.balance = pass.balance;
    for (auto &calibration : facts.calibrations)
        for (const auto &fresh : pass.calibrations)
            if (fresh.model == calibration.model) {
                const auto unseen = calibration.crossValidated; // a preview has none of its own
                calibration = fresh;
                calibration.crossValidated = unseen;
            }
    fillProofs(facts);
    return facts;
}

} // namespace wavechroma::app
