#include "app/model/call_out_words.h"
#include "app/model/day_lanes.h"
#include "core/fit/fit.h"
#include "core/sim/reflectance.h"
#include "core/sim/scene.h"
#include "core/sim/studio.h"
#include "core/tasks/job_task.h"
#include "support/registry.h"

#include <QTest>

using namespace wavechroma;
using namespace wavechroma::app;

/// The day as the sheet lays it out: stations, brackets, the chart that speaks for a frame.
class DayLanesTest : public QObject
{
    Q_OBJECT
private slots:
    void pairsAreToldApart();
    void framesStandInTheOrderOfTheirTime();
    void theBestExposureOfABracketAnswers();
    void aFrameSetAsideByHandIsNotChosen();
    void productFramesNameTheirChartAndTheirDoubts();
    void aMovedLightIsTheStationsAnswer();
    void anEmptySetupAsksForAChart();
    void theFrameToOpenIsTheNewestGoodChart();
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
        return state.frames.back();
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
        const bool burnt = level > 1;
        r.checks = {{"clipping",
                     burnt ? Severity::Stop : Severity::Ok,
                     0,
                     0.01,
                     "share",
                     {},
                     burnt ? "D1 is burnt out. Close down 1 stop." : "Nothing is burnt out."},
                    {"exposure", Severity::Ok, stops, 1, "stops", {"D1"}, "D1 is near its aim."}};
        state.readings.push_back({next++, f.id, r});
        if (const auto calibration = fitCalibration(r, definition, {"matrix", {}, {}, false}))
            state.calibrations.push_back({next++, f.id, *calibration});
        f.setAside = burnt;
        return f;
    }
};

} // namespace

void DayLanesTest::pairsAreToldApart()
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
    const auto lanes = lanesOf(day.state);
    QCOMPARE(lanes.size(), size_t(5)); // four pairs and the empty second setup
    QCOMPARE(lanes[2].frames.size(), size_t(2));
}

void DayLanesTest::framesStandInTheOrderOfTheirTime()
{
    Day day;
    day.frame(1, FramePart::Product, "10:00:00");
    day.frame(1, FramePart::Product, "09:00:00");
    day.frame(2, FramePart::Product, "08:00:00");
    const auto lanes = lanesOf(day.state);
    QCOMPARE(lanes.size(), size_t(2));
    QCOMPARE(lanes[0].frames.front()->camera.capturedAt, std::string("2026-10-14T09:00:00"));
    QCOMPARE(lanes[1].setup, RowId(2));
    QCOMPARE(lanes[0].answer.reason, std::string("2 frames wait for a chart"));
}

void DayLanesTest::theBestExposureOfABracketAnswers()
{
    Day day;
    day.chart(1, "09:00:00", 11, 0.34);
    const auto right = day.chart(1, "09:00:08", 8, 0.68).id;
    day.chart(1, "09:00:16", 5.6, 1.36);
    const auto lanes = lanesOf(day.state);
    QCOMPARE(lanes[0].brackets.size(), size_t(1));
    QCOMPARE(lanes[0].brackets[0].chosen, right);
    QCOMPARE(lanes[0].answer.frame, right);
    QVERIFY2(lanes[0].answer.reason.find("best of 3") != std::string::npos, lanes[0].answer.reason.c_str());
    // at one setting, or minutes apart, it is no bracket
    Day other;
    other.chart(1, "09:00:00", 8);
    other.chart(1, "09:00:08", 8);
    other.chart(1, "09:10:00", 11);
    QVERIFY(lanesOf(other.state)[0].brackets.empty());
}

void DayLanesTest::aFrameSetAsideByHandIsNotChosen()
{
    Day day;
    const auto first = day.chart(1, "09:00:00", 9, 0.5).id;
    auto &second = day.chart(1, "09:00:08", 8, 0.68);
    second.setAside = true;
    const auto lanes = lanesOf(day.state);
    QCOMPARE(lanes[0].answer.frame, first);
    // with nothing else left the spoilt one answers, and says what is wrong
    Day burnt;
    const auto id = burnt.chart(1, "09:00:00", 8, 1.4).id;
    QCOMPARE(lanesOf(burnt.state)[0].answer.kind, AnswerKind::Spoilt);
    QCOMPARE(callOutFor(burnt.state, id).headline, std::string("Close down 1 stop."));
}

void DayLanesTest::productFramesNameTheirChartAndTheirDoubts()
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
    const auto lanes = lanesOf(day.state);
    const auto serving = [&](RowId id) {
        for (const auto &lane : lanes)
            for (const auto *frame : lane.frames)
                if (frame->id == id)
                    return chartServing(day.state, lane, *frame);
        return ServingChart{};
    };
    QCOMPARE(serving(fine).frame, chart);
    QVERIFY(serving(fine).warning.empty());
    QCOMPARE(serving(early).warning, std::string("Its chart was shot after it, at 09:00."));
    QCOMPARE(serving(iso).warning, std::string("Shot at ISO 800, its chart at ISO 100."));
    QCOMPARE(serving(otherLens).warning, std::string("No chart for this camera and lens under this light."));
    QCOMPARE(serving(otherLight).warning, std::string("No chart under this light yet."));
    QVERIFY(calibrationFor(day.state, fine) && !calibrationFor(day.state, otherLight));
}

void DayLanesTest::aMovedLightIsTheStationsAnswer()
{
    Day day;
    day.chart(1, "09:00:00", 8);
    const auto between = day.frame(1, FramePart::Product, "10:00:00").id;
    day.chart(1, "11:00:00", 8, 0.6, "tungsten");
    const auto lanes = lanesOf(day.state);
    QCOMPARE(lanes[0].answer.headline, std::string("The light moved"));
    QCOMPARE(lanes[0].answer.kind, AnswerKind::Poor);
    QVERIFY2(lanes[0].answer.reason.find("warmer since 09:00") != std::string::npos,
             lanes[0].answer.reason.c_str());
    QVERIFY(
        chartServing(day.state, lanes[0], *day.state.frame(between)).warning.find("By the chart at 11:00") ==
        0);
}

void DayLanesTest::anEmptySetupAsksForAChart()
{
    Day day;
    const auto lanes = lanesOf(day.state);
    QCOMPARE(lanes.size(), size_t(2));
    QVERIFY(lanes[0].frames.empty());
    QCOMPARE(frameToOpen(day.state), RowId(0));
}

void DayLanesTest::theFrameToOpenIsTheNewestGoodChart()
{
    Day day;
    const auto good = day.chart(1, "09:00:00", 8).id;
    day.chart(1, "10:00:00", 8, 1.5); // spoilt
    QCOMPARE(frameToOpen(day.state), good);
}

static const testing::Registered<DayLanesTest> registered("day_lanes_test");
#include "day_lanes_test.moc"
