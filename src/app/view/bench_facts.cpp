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

/// The balance chosen for the frame, else the default neutral's; its temperature by the station's calibration
/// where that was told its light (an estimated one comes from the file's matrix in the first place).
static void fillBalance(BenchFacts &facts)
{
    facts.balanceIsChosen = facts.frame && facts.frame->balance.has_value();
    facts.balance.reset();
    if (facts.balanceIsChosen)
        facts.balance = facts.frame->balance;
    else if (const auto balance = balanceReading(*facts.reading, {}))
        facts.balance = *balance;
    const auto *chosen = facts.chosen();
    if (facts.balance && chosen && !chosen->light.estimated)
        facts.balance = readThrough(*facts.balance, *chosen);
    facts.greys.clear();
    facts.otherFace.clear();
    facts.aims.clear();
    if (facts.balance) {
        facts.greys = readBack(*facts.reading, facts.chart, *facts.balance);
        facts.otherFace = otherFaceWords(*facts.reading, facts.chart, *facts.balance);
    }
    if (chosen)
        facts.aims = aimedNeutrals(*chosen, *facts.reading, facts.chart, facts.ownAims);
    if (!facts.calibrations.empty())
        facts.recommended = recommendationOf(facts.calibrations, *facts.reading);
}

/// The job's own lights are those of this camera and lens under its other setups.
static void fillLadder(BenchFacts &facts, const JobState &state)
{
    std::vector<std::pair<std::string, Temperature>> own;
    for (const auto &setup : state.setups)
        for (const auto &frame : state.frames) {
            if (frame.setup != setup.id || !samePair(frame.camera, facts.reading->camera))
                continue;
            const auto *row = state.calibrationOf(frame.id, modelFor(state, frame.id));
            if (row && row->calibration.light.name != "unknown") {
                const auto &light = row->calibration.light;
                own.emplace_back(setup.title, Temperature{light.cctKelvin, light.duv});
                break;
            }
        }
    facts.ladder = ladderOf(cameraLightsFor(facts.chosen(), facts.reading->fileColor), own);
}

BenchFacts benchFacts(const JobState &state, RowId frame)
{
    BenchFacts facts;
    facts.chart = chartCatalogue().front();
    facts.chosenModel = modelFor(state, frame);
    facts.followsReading = state.title.chosenModel == kRecommended;
    const auto limits = sheetOf(state);
    facts.limits = limits.proof;
    if (const auto aims = aimsFrom(limits.aims))
        facts.ownAims = *aims;
    const auto *row = state.frame(frame);
    if (!row)
        return facts;
    facts.frame = *row;
    for (const auto &lane : lanesOf(state))
        if (row->part == FramePart::Product &&
            std::find(lane.frames.begin(), lane.frames.end(), row) != lane.frames.end())
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
    for (const auto &model : knownModels())
        if (const auto *calibration = state.calibrationOf(frame, model))
            facts.calibrations.push_back(calibration->calibration);
    fillBalance(facts);
    fillLadder(facts, state);
    fillProofs(facts);
    return facts;
}

BenchFacts benchFacts(const BenchFacts &before, const StationPass &pass)
{
    BenchFacts facts = before;
    facts.reading = pass.reading;
    for (auto &calibration : facts.calibrations)
        for (const auto &fresh : pass.calibrations)
            if (fresh.model == calibration.model) {
                const auto unseen = calibration.crossValidated; // a preview has none of its own
                const auto figures = calibration.figures;
                calibration = fresh;
                calibration.crossValidated = unseen;
                calibration.figures = figures;
            }
    fillBalance(facts);
    fillProofs(facts);
    return facts;
}

} // namespace wavechroma::app
