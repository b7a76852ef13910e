#include "core/fit/fit.h"
#include "core/formats/tolerance_sheet.h"
#include "core/proof/proof.h"
#include "core/sim/reflectance.h"
#include "core/sim/scene.h"
#include "core/sim/studio.h"
#include "core/station/stations.h"
#include "core/words/answer_words.h"
#include "support/registry.h"

#include <QTest>
#include <cmath>
#include <tuple>

using namespace wavechroma;

/// The day as the sheet lays it out: stations, brackets, the chart that speaks for a frame.
class StationsTest : public QObject
{
    Q_OBJECT
private slots:
    void pairsAreToldApart();
    void limitsOfOtherMeasuresDecideToo();
    void modulesAndKindsOfFilesAreToldApart();
    void aCameraThatBalancesItselfIsDoubted();
    void framesStandInTheOrderOfTheirTime();
    void theBestExposureOfABracketAnswers();
    void aFrameSetAsideByHandIsNotChosen();
    void productFramesNameTheirChartAndTheirDoubts();
    void aMovedLightIsTheStationsAnswer();
    void anEmptySetupAsksForAChart();
    void theFrameToOpenIsTheNewestGoodChart();
    void whatIsKeptUpIsWhatIsBuiltAnew();
    void aChartChosenByHandServes();
    void theKindOfLampSaysWhetherTimeCounts();
    void runsEndAtChartsAndFlats();
};

namespace {

/// A job in memory. Readings are of the classic chart under a lamp, at some exposure.
struct Day
{
    JobState state;
    RowId next = 10;

    Day() { state.setups = {JobSetup{1, "First", {}}, JobSetup{2, "Second", {}}}; }

    JobFrame &frame(RowId setup, FramePart part, const char *time, const char *lens = "60 mm")
    {
        JobFrame f;
        f.id = next++;
        f.setup = setup;
        f.part = part;
        f.path = "F" + std::to_string(f.id) + ".dng";
        f.camera = {"Skerrow",       "Tarn 2", "SK1", lens, 100, 0.01, 8, std::string("2026-10-14T") + time,
                    "Skerrow Tarn 2"};
        f.width = 6000;
        f.height = 4000;
        state.frames.push_back(f);
        return state.frames.edit().back();
    }

    JobFrame &chart(RowId setup, const char *time, double fNumber, double level = 0.6,
                    const char *lamp = "daylight")
    {
        auto &f = frame(setup, FramePart::Chart, time);
        f.camera.fNumber = fNumber;
        const auto &body = sim::camera("Tarn 2");
        const auto &light = sim::lamp(lamp).spectrum;
        const auto &definition = chartCatalogue().front();
        const auto white = sim::response(body, body.lenses[0], light, sim::flatReflectance(1));
        Reading r;
        r.image = f.path;
        r.found = true;
        r.chart = definition.id;
        r.camera = f.camera;
        const auto reflectances = sim::chartReflectances(definition);
        for (size_t i = 0; i < 24; ++i) {
            const auto rgb = sim::response(body, body.lenses[0], light, reflectances[i]);
            PatchReading p;
            p.id = definition.patches[i].id;
            p.count = 1000;
            p.mean = {level * rgb[0] / white[1], level * rgb[1] / white[1], level * rgb[2] / white[1]};
            p.clipped = p.mean.g >= 1 ? 1 : 0;
            r.patches.push_back(p);
        }
        const double stops = std::log2(level / 0.7);
        const bool clipped = level > 1;
        Check clipping{CheckId::Clipping, Severity::Ok, 0, 0.01, "share", {}, "none"};
        if (clipped) {
            clipping.severity = Severity::Stop;
            clipping.finding = "clipped";
            clipping.patches = {"D1"};
            clipping.stops = 1;
        }
        r.checks = {clipping, {CheckId::Exposure, Severity::Ok, stops, 1, "stops", {"D1"}, "at-aim"}};
        state.readings.push_back(jobReading(next++, f.id, r));
        FitOptions options;
        options.crossValidate = false;
        if (const auto calibration = fitCalibration(r, definition, options)) {
            const auto proof = *prove(*calibration, r, definition);
            state.calibrations.push_back(jobCalibration(next++, f.id, *calibration, true, &proof));
        }
        f.setAside = clipped;
        return f;
    }
};

} // namespace

void StationsTest::pairsAreToldApart()
{
    Day day;
    day.frame(1, FramePart::Product, "09:00:00");
    day.frame(1, FramePart::Product, "09:01:00", "105 mm");
    auto &main =
        day.frame(1, FramePart::Product, "09:02:00", ""); // two modules of one body, lenses without names
    main.width = 4032;
    auto &wide = day.frame(1, FramePart::Product, "09:03:00", "");
    wide.width = 3000;
    auto &onSide = day.frame(1, FramePart::Product, "09:04:00", "");
    onSide.width = 4000; // the main one again, turned
    onSide.height = 4032;
    const Stations stations(day.state);
    const auto &lanes = stations.all();
    QCOMPARE(lanes.size(), size_t(5)); // four pairs and the empty second setup
    QCOMPARE(lanes[2]->frames.size(), size_t(2));
}

/// An answer is good where the sheet's limits hold in every measure that it sets one in.
void StationsTest::limitsOfOtherMeasuresDecideToo()
{
    Day day;
    day.chart(1, "09:00:00", 8);
    const auto answer = [&](double most) {
        ToleranceSheet sheet;
        sheet.proof.de76.patch = most;
        day.state.title.tolerance = documentOf(sheet);
        return Stations(day.state).all()[0]->answer;
    };
    const auto fine = answer(0);
    QVERIFY(fine.why == Answer::Why::WithinLimits && !fine.over);
    const auto over = answer(0.01);
    QVERIFY(over.why == Answer::Why::OverLimits && over.over);
    QVERIFY(over.over->measure == DifferenceMeasure::De76 && over.over->worst > 0.01);
    QVERIFY2(words::reason(over).starts_with("ΔE76 mean"), words::reason(over).c_str());
    QVERIFY(!answer(over.over->worst + 0.01).over);
    QVERIFY(answer(over.over->worst - 0.01).over);
}

void StationsTest::modulesAndKindsOfFilesAreToldApart()
{
    Day day;
    for (const double focal : {4.2, 1.9, 4.2}) // two modules of one body and size, lenses without names
        day.frame(1, FramePart::Product, "09:00:00", "").camera.focalMm = focal;
    day.frame(1, FramePart::Product, "09:03:00", "").camera.isRendered = true;
    for (const double focal : {24.0, 70.0}) // a zoom with a name is one lens
        day.frame(2, FramePart::Product, "09:04:00").camera.focalMm = focal;
    const Stations stations(day.state);
    const auto &lanes = stations.all();
    QCOMPARE(lanes.size(), size_t(4));
    QCOMPARE(lanes[0]->name, std::string("First, Tarn 2, 4.2 mm"));
    QCOMPARE(lanes[0]->frames.size(), size_t(2));
    QCOMPARE(lanes[1]->name, std::string("First, Tarn 2, 1.9 mm"));
    QCOMPARE(lanes[2]->name, std::string("First, Tarn 2, pictures"));
    CameraFacts main = lanes[0]->camera, wide = lanes[1]->camera, picture = main;
    picture.isRendered = true;
    QVERIFY(samePair(main, main) && !samePair(main, wide) && !samePair(main, picture));
}

void StationsTest::aCameraThatBalancesItselfIsDoubted()
{
    for (const bool isRendered : {false, true}) { // a raw frame is not changed by it
        Day day;
        day.chart(1, "09:00:00", 8).camera.isRendered = isRendered;
        auto &frame = day.frame(1, FramePart::Product, "09:30:00");
        frame.camera.isRendered = isRendered;
        frame.camera.balancesItself = true;
        const auto doubts = Stations(day.state).servingOf(day.state, frame.id).doubts;
        QCOMPARE(std::any_of(doubts.begin(), doubts.end(),
                             [](const Doubt &d) { return d.code == "auto-balance"; }),
                 isRendered);
    }
}

void StationsTest::framesStandInTheOrderOfTheirTime()
{
    Day day;
    day.frame(1, FramePart::Product, "10:00:00");
    day.frame(1, FramePart::Product, "09:00:00");
    day.frame(2, FramePart::Product, "08:00:00");
    const Stations stations(day.state);
    const auto &lanes = stations.all();
    QCOMPARE(lanes.size(), size_t(2));
    QCOMPARE(day.state.frame(lanes[0]->frames.front())->camera.capturedAt,
             std::string("2026-10-14T09:00:00"));
    QCOMPARE(lanes[1]->setup, RowId(2));
    QCOMPARE(words::reason(lanes[0]->answer), std::string("2 frames have no chart"));
}

void StationsTest::theBestExposureOfABracketAnswers()
{
    Day day;
    day.chart(1, "09:00:00", 11, 0.34);
    const auto right = day.chart(1, "09:00:08", 8, 0.68).id;
    day.chart(1, "09:00:16", 5.6, 1.36);
    const Stations stations(day.state);
    const auto &lanes = stations.all();
    QCOMPARE(lanes[0]->brackets.size(), size_t(1));
    QCOMPARE(lanes[0]->brackets[0].chosen, right);
    QCOMPARE(lanes[0]->answer.frame, right);
    QVERIFY2(words::reason(lanes[0]->answer).find("best of 3") != std::string::npos,
             words::reason(lanes[0]->answer).c_str());
    // at one setting, or minutes apart, it is no bracket
    Day other;
    other.chart(1, "09:00:00", 8);
    other.chart(1, "09:00:08", 8);
    other.chart(1, "09:10:00", 11);
    QVERIFY(Stations(other.state).all()[0]->brackets.empty());
}

void StationsTest::aFrameSetAsideByHandIsNotChosen()
{
    Day day;
    const auto first = day.chart(1, "09:00:00", 9, 0.5).id;
    auto &second = day.chart(1, "09:00:08", 8, 0.68);
    second.setAside = true;
    const Stations stations(day.state);
    const auto &lanes = stations.all();
    QCOMPARE(lanes[0]->answer.frame, first);
    // with nothing else left the spoilt one answers, and says what is wrong
    Day clipped;
    const auto id = clipped.chart(1, "09:00:00", 8, 1.4).id;
    QCOMPARE(Stations(clipped.state).all()[0]->answer.state, Answer::State::ShootAgain);
    QCOMPARE(words::callOut(Stations(clipped.state).answerOf(clipped.state, id),
                            clipped.state.readingOf(id)->brief.checks)
                 .headline,
             std::string("Close down 1 stop."));
}

void StationsTest::productFramesNameTheirChartAndTheirDoubts()
{
    Day day;
    const auto early = day.frame(1, FramePart::Product, "08:50:00").id;
    const auto chart = day.chart(1, "09:00:00", 8).id;
    const auto fine = day.frame(1, FramePart::Product, "09:05:00").id;
    auto &noisy = day.frame(1, FramePart::Product, "09:06:00");
    noisy.camera.iso = 800;
    const auto iso = noisy.id;
    const auto otherLens = day.frame(1, FramePart::Product, "09:07:00", "105 mm").id;
    const auto otherLight = day.frame(2, FramePart::Product, "09:08:00").id;
    const Stations stations(day.state);
    const auto warning = [&](RowId id) { return words::serving(stations.servingOf(day.state, id)); };
    QCOMPARE(stations.servingOf(day.state, fine).chart, chart);
    QVERIFY(warning(fine).empty());
    QCOMPARE(warning(early), std::string("Its chart was shot after it, at 09:00."));
    QCOMPARE(warning(iso), std::string("Shot at ISO 800, its chart at ISO 100."));
    QCOMPARE(warning(otherLens), std::string("No chart for this camera and lens under this light."));
    QCOMPARE(warning(otherLight), std::string("No chart under this light yet."));
    QVERIFY(stations.calibrationFor(day.state, fine) && !stations.calibrationFor(day.state, otherLight));
}

void StationsTest::aMovedLightIsTheStationsAnswer()
{
    Day day;
    day.chart(1, "09:00:00", 8);
    const auto between = day.frame(1, FramePart::Product, "10:00:00").id;
    day.chart(1, "11:00:00", 8, 0.6, "tungsten");
    const Stations stations(day.state);
    const auto &lanes = stations.all();
    QCOMPARE(words::headline(lanes[0]->answer), std::string("The light moved"));
    QCOMPARE(lanes[0]->answer.state, Answer::State::LookAgain);
    QVERIFY2(words::reason(lanes[0]->answer).find("warmer since 09:00") != std::string::npos,
             words::reason(lanes[0]->answer).c_str());
    const auto warning = words::serving(stations.servingOf(day.state, between));
    QVERIFY2(warning.find("By the chart at 11:00") == 0, warning.c_str());
}

void StationsTest::anEmptySetupAsksForAChart()
{
    Day day;
    const Stations stations(day.state);
    const auto &lanes = stations.all();
    QCOMPARE(lanes.size(), size_t(2));
    QVERIFY(lanes[0]->frames.empty());
    QCOMPARE(Stations(day.state).frameToOpen(), RowId(0));
}

void StationsTest::theFrameToOpenIsTheNewestGoodChart()
{
    Day day;
    const auto good = day.chart(1, "09:00:00", 8).id;
    day.chart(1, "10:00:00", 8, 1.5); // spoilt
    QCOMPARE(Stations(day.state).frameToOpen(), good);
}

void StationsTest::whatIsKeptUpIsWhatIsBuiltAnew()
{
    // a day of changes, one after the other, each kept up with and compared with stations built anew
    Day day;
    day.chart(1, "09:00:00", 8);
    day.frame(1, FramePart::Product, "09:05:00");
    JobState state = day.state;
    Stations kept(state);
    int compared = 0;
    const auto apply = [&](const JobChange &change) {
        wavechroma::apply(state, change);
        kept.update(state, change);
        const Stations anew(state);
        QCOMPARE(kept.all().size(), anew.all().size());
        for (size_t i = 0; i < anew.all().size(); ++i)
            QVERIFY(*kept.all()[i] == *anew.all()[i]);
        for (const auto &f : state.frames)
            QVERIFY(kept.servingOf(state, f.id) == anew.servingOf(state, f.id));
        ++compared;
    };
    Day more; // the frames to come, with readings and calibrations
    more.next = 100;
    more.chart(2, "10:00:00", 11, 0.34);
    more.chart(2, "10:00:09", 8, 0.68);
    more.frame(1, FramePart::Product, "10:30:00", "105 mm");
    for (const auto &f : more.state.frames) {
        JobChange change;
        change.frames.push_back({std::nullopt, f});
        if (const auto *reading = more.state.readingOf(f.id))
            change.readings.push_back({std::nullopt, *reading});
        for (const auto *calibration : more.state.calibrationsOf(f.id))
            change.calibrations.push_back({std::nullopt, *calibration});
        apply(change);
    }
    const auto changed = [&](RowId id, auto &&how) {
        auto before = *state.frame(id), after = before;
        how(after);
        JobChange change;
        change.frames.push_back({before, after});
        apply(change);
        return change;
    };
    changed(state.frames[0].id, [](JobFrame &f) { f.setAside = true; });
    const auto moved = changed(state.frames[0].id, [](JobFrame &f) { f.setup = 2; });
    apply(reversed(moved));
    changed(state.frames[1].id, [](JobFrame &f) { f.camera.lens = "105 mm"; });
    changed(state.frames[2].id, [](JobFrame &f) { f.camera.capturedAt = "2026-10-14T12:00:00"; });
    JobChange gone; // the last frame of its pair
    gone.frames.push_back({state.frames.back(), std::nullopt});
    apply(gone);
    JobChange other;
    auto title = state.title;
    title.parts = {"field", "greys"};
    other.titles.push_back({state.title, title});
    apply(other);
    JobChange setup;
    setup.setups.push_back({std::nullopt, JobSetup{300, "Third", {}}});
    apply(setup);
    QCOMPARE(compared, 11);
}

void StationsTest::aChartChosenByHandServes()
{
    Day day;
    const auto first = day.chart(1, "09:00:00", 8).id;
    const auto product = day.frame(1, FramePart::Product, "09:30:00").id;
    const auto second = day.chart(1, "10:00:00", 8, 0.6, "tungsten").id; // the light moved meanwhile
    const auto elsewhere = day.chart(2, "11:00:00", 8).id;
    const auto serving = [&] { return Stations(day.state).servingOf(day.state, product); };
    const auto codes = [&] {
        std::vector<std::string> out;
        for (const auto &doubt : serving().doubts)
            out.push_back(doubt.code);
        return out;
    };
    const auto choose = [&](RowId chart) {
        for (auto &frame : day.state.frames.edit())
            if (frame.id == product)
                frame.servedBy = chart;
    };
    QCOMPARE(serving().chart, first);
    const auto before = codes();
    QCOMPARE(std::count(before.begin(), before.end(), "light-moved"), ptrdiff_t(1));
    choose(second);
    QCOMPARE(serving().chart, second);
    const auto doubts = codes();
    QVERIFY(std::count(doubts.begin(), doubts.end(), "chart-after") == 1);
    QVERIFY(std::count(doubts.begin(), doubts.end(), "light-moved") == 0);
    choose(elsewhere); // of another light: it does not speak here, so the rule does
    QCOMPARE(serving().chart, first);
    choose(9999); // gone
    QCOMPARE(serving().chart, first);
}

/// Whether exposure time counts is chosen, or shown by charts of other times; never read out of words.
void StationsTest::theKindOfLampSaysWhetherTimeCounts()
{
    const auto dayWith = [](LampKind kind, const char *words, double secondTime, double secondLevel) {
        Day day;
        day.state.setups.edit().front().lampKind = kind;
        day.state.setups.edit().front().lamps = words;
        day.chart(1, "09:00:00", 8, 0.3);
        auto &second = day.chart(1, "09:30:00", 8, secondLevel);
        second.camera.exposureSeconds = secondTime;
        day.state.readings.edit().back().brief.camera.exposureSeconds = secondTime;
        auto &product = day.frame(1, FramePart::Product, "09:40:00");
        product.camera.exposureSeconds = 0.08;
        return day;
    };
    const auto timeOf = [](const Day &day) { return Stations(day.state).exposureTimeUnder(day.state, 1); };
    const auto doubtOf = [](const Day &day) {
        return Stations(day.state).doubtOfLevel(day.state, day.state.frames.back().id).has_value();
    };
    using T = ExposureTime;
    const auto silent = dayWith(LampKind::Unknown, "two strobes, flash", 0.01, 0.3);
    QVERIFY(timeOf(silent) == T::Unknown && doubtOf(silent));
    const auto flashes = dayWith(LampKind::Unknown, "Blitz", 0.04, 0.31);
    QVERIFY(timeOf(flashes) == T::DoesNotCount && !doubtOf(flashes));
    const auto panel = dayWith(LampKind::Unknown, "", 0.02, 0.6);
    QVERIFY(timeOf(panel) == T::Counts && !doubtOf(panel));
    const auto turnedUp = dayWith(LampKind::Unknown, "", 0.04, 0.6); // two stops of time, one of light
    QVERIFY(timeOf(turnedUp) == T::Unknown && doubtOf(turnedUp));
    auto contradicted =
        flashes; // a flash, then a lamp that stays on, then a flash: whatever comes last, nothing is known
    for (const auto &[time, seconds, level] :
         {std::tuple("09:32:00", 0.02, 0.16), std::tuple("09:34:00", 0.04, 0.16)}) {
        contradicted.chart(1, time, 8, level).camera.exposureSeconds = seconds;
        contradicted.state.readings.edit().back().brief.camera.exposureSeconds = seconds;
    }
    QVERIFY(timeOf(contradicted) == T::Unknown);
    const auto chosen = dayWith(LampKind::Led, "monolight", 0.04, 0.3);
    QVERIFY(timeOf(chosen) == T::Counts && Stations(chosen.state).shownTime(1) == T::DoesNotCount);
    const auto mixed = dayWith(LampKind::Mixed, "", 0.01, 0.3);
    QVERIFY(timeOf(mixed) == T::Unknown && doubtOf(mixed));
}

void StationsTest::runsEndAtChartsAndFlats()
{
    Day day;
    day.chart(1, "09:00:00", 8);
    const auto a = day.frame(1, FramePart::Product, "09:01:00").id;
    const auto b = day.frame(1, FramePart::Product, "09:02:00").id;
    const auto flat = day.frame(1, FramePart::Flat, "09:03:00").id;
    const auto c = day.frame(1, FramePart::Product, "09:04:00").id;
    const auto other = day.frame(1, FramePart::Product, "09:01:30", "105 mm").id; // another lens, another run
    const Stations stations(day.state);
    QCOMPARE(stations.runOf(day.state, a), (std::vector<RowId>{a, b}));
    QCOMPARE(stations.runOf(day.state, b), (std::vector<RowId>{a, b}));
    QCOMPARE(stations.runOf(day.state, c), std::vector<RowId>{c});
    QCOMPARE(stations.runOf(day.state, other), std::vector<RowId>{other});
    QVERIFY(stations.runOf(day.state, flat).empty());
    QVERIFY(stations.runOf(day.state, 9999).empty());
}

static const testing::Registered<StationsTest> registeredStationsTest("stations_test");
#include "stations_test.moc"
