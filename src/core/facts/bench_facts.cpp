#include "core/facts/bench_facts.h"

#include "core/fit/fit.h"
#include "core/tasks/colour_sides.h"
#include "core/tasks/prove_task.h"
#include "core/tasks/reference_task.h"

namespace wavechroma {

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
    facts.otherFace.reset();
    facts.aims.clear();
    if (facts.balance) {
        facts.greys = readBack(*facts.reading, facts.chart, *facts.balance);
        facts.otherFace = otherFaceOf(*facts.reading, facts.chart, *facts.balance);
    }
    if (chosen)
        facts.aims = aimedNeutrals(*chosen, *facts.reading, facts.chart, facts.ownAims);
    if (!facts.calibrations.empty())
        facts.recommended = recommendationOf(facts.calibrations, *facts.reading);
}

/// The job's own lights are those of this camera and lens under its other setups.
static void fillLadder(BenchFacts &facts, const JobState &state, const Stations &stations)
{
    std::vector<std::pair<std::string, Temperature>> own;
    for (const auto &setup : state.setups)
        for (const auto *station : stations.all()) {
            if (station->setup != setup.id || station->speaking.empty() ||
                !samePair(station->camera, facts.reading->camera))
                continue;
            const auto chart = station->speaking.front();
            const auto *row = state.calibrationOf(chart, partsFor(state, chart));
            if (row && row->brief.light != "unknown") {
                own.emplace_back(setup.title, Temperature{row->brief.cctKelvin, row->brief.duv});
                break;
            }
        }
    facts.ladder = ladderOf(cameraLightsFor(facts.chosen(), facts.reading->fileColor), own);
}

bool BenchFacts::isWhiteAlone() const
{
    return reading && saysWhiteAlone(chart);
}

/// The chart as the calibration in use means it; absent where nothing can be judged by it.
static std::optional<ChartDefinition> judgedBy(const BenchFacts &facts)
{
    const auto *chosen = facts.chosen();
    if (!chosen || !facts.reading || facts.isWhiteAlone() || !facts.chart.colorsKnown)
        return std::nullopt;
    return chartAsMeant(*chosen, facts.chart);
}

std::optional<SideErrors> errorsOf(const BenchFacts &facts)
{
    const auto chart = judgedBy(facts);
    return chart ? errorsOn(sideOf(*facts.chosen(), *facts.reading, *chart), *facts.reading, *chart)
                 : std::nullopt;
}

std::optional<ErrorsCompared> errorsAgainst(const BenchFacts &facts, const Parts &other)
{
    const auto chart = judgedBy(facts);
    const auto *against = facts.of(other);
    if (!chart || !against || other == facts.parts)
        return std::nullopt;
    return compared(sideOf(*against, *facts.reading, *chart), sideOf(*facts.chosen(), *facts.reading, *chart),
                    viewOf(*facts.reading, *chart), {DifferenceMeasure::De2000, &*facts.reading, &*chart})
        .errors;
}

BenchFacts benchFacts(const Job &job, RowId frame)
{
    const auto &state = job.rows();
    BenchFacts facts;
    facts.chart = chartCatalogue().front();
    facts.parts = partsFor(state, frame);
    facts.followsReading = isAuto(state.title.parts);
    facts.common = commonPartsFor(state, frame);
    const auto sheet = sheetOf(state);
    facts.limits = sheet.proof;
    if (const auto aims = aimsFrom(sheet.aims))
        facts.ownAims = *aims;
    const auto *row = state.frame(frame);
    if (!row)
        return facts;
    facts.frame = *row;
    facts.serving = job.serving(frame);
    const auto *reading = job.stations().readingToShow(state, frame);
    if (!reading) { // of a product frame: what was chosen for it
        facts.balance = row->balance;
        facts.balanceIsChosen = row->balance.has_value();
        if (const auto *serving = job.calibrationFor(frame);
            serving && !row->balance && !serving->calibration.fault()) {
            Balance own; // what it is rendered by, to lean from
            own.multipliers = serving->calibration->multipliers;
            own.neutral = {1 / own.multipliers[0], 1, 1 / own.multipliers[2]};
            own.source.image = row->path;
            if (serving->brief.cctKelvin > 0)
                own.temperature = Temperature{serving->brief.cctKelvin, serving->brief.duv};
            facts.balance = own;
        }
        return facts;
    }
    if (const auto &fault = reading->reading.fault()) {
        facts.fault = fault->phrase;
        return facts;
    }
    facts.reading = *reading->reading;
    if (const auto chart = chartOf(*facts.reading))
        facts.chart = *chart;
    if (const auto scale = scaleOf(*facts.reading, facts.chart))
        facts.scale = verdictOn(*scale, state.title.intendedPpi, sheet.scaleError, sheet.distortion);
    for (const auto *calibration : state.calibrationsOf(frame)) {
        if (const auto &fault = calibration->calibration.fault())
            facts.fault = fault->phrase;
        else
            facts.calibrations.push_back(*calibration->calibration);
    }
    std::stable_sort(facts.calibrations.begin(), facts.calibrations.end(),
                     [](const auto &a, const auto &b) { return freedomOf(a.parts) < freedomOf(b.parts); });
    fillBalance(facts);
    fillLadder(facts, state, job.stations());
    fillProofs(facts);
    return facts;
}

BenchFacts benchFacts(const BenchFacts &before, const StationPass &pass)
{
    BenchFacts facts = before;
    facts.reading = pass.reading;
    for (auto &calibration : facts.calibrations)
        for (const auto &fresh : pass.calibrations)
            if (fresh.parts == calibration.parts) {
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

BenchFacts withLean(const BenchFacts &before, const ColourLean &lean)
{
    BenchFacts facts = before;
    for (auto &calibration : facts.calibrations)
        calibration.lean = lean;
    fillProofs(facts);
    return facts;
}

} // namespace wavechroma
