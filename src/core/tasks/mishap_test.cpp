#include "core/sim/frame_in_memory.h"
#include "core/sim/random.h"
#include "core/sim/studio_set.h"
#include "core/station/stations.h"
#include "core/tasks/job_task.h"
#include "core/tasks/read_task.h"
#include "core/words/answer_words.h"
#include "support/registry.h"

#include <QTest>
#include <algorithm>
#include <cmath>
#include <numbers>

using namespace wavechroma;

/// Each mishap of the simulated studio at random places: the headline for across the room asks for what mends
/// it.
class MishapTest : public QObject
{
    Q_OBJECT
private slots:
    void theHeadlineAsksForWhatMendsIt_data();
    void theHeadlineAsksForWhatMendsIt();
    void severalAtOnceAreAnsweredByOneOfThem();
    void aLightMovesOnlyBetweenSoundShots();
};

namespace {

/// The table, the lamp, the body and where the chart lies, anyhow.
sim::StudioSettings anySettings(uint64_t seed)
{
    sim::Random random(seed);
    sim::StudioSettings s;
    s.shrink = 4;
    s.seed = seed;
    const char *lamps[] = {"strobe", "led", "daylight", "tungsten"}, *bodies[] = {"Tarn 2", "Marram 8"};
    s.lamp = lamps[random.below(4)];
    s.camera = bodies[random.below(2)];
    s.chartWidth = random.uniform(0.36, 0.56);
    s.chartX = random.uniform(0.42, 0.52);
    s.chartY = random.uniform(0.44, 0.5);
    s.chartTurn = random.uniform(-12, 12);
    s.fingerColumn = random.below(6);
    s.glareRow = random.below(3);
    s.glareColumn = random.below(6);
    s.shadowAngle = random.uniform(0, 6.2832);
    s.shadowShift = random.uniform(-0.12, 0.12);
    return s;
}

struct Told
{
    words::CallOut callOut;
    size_t warnings = 0; ///< checks that did not pass
};

/// Shot, taken in as a job's only frame, and answered.
Told toldOf(const sim::StudioSettings &settings)
{
    const auto frame = sim::rawFrameOf(sim::shootStudio(settings));
    const auto reading = *readFrame(frame);
    JobState state;
    state.setups = {JobSetup{1, {}, {}}};
    JobFrame row;
    row.id = 2;
    row.setup = 1;
    row.part = FramePart::Chart;
    row.camera = frame.camera;
    state.frames.push_back(row);
    FitRequest request;
    request.sha256 = std::string(64, '0');
    apply(state, changeFor(state, 2, passFrom(reading, request)));
    const auto isRaised = [](const Check &check) { return check.severity != Severity::Ok; };
    return {words::callOut(Stations(state).answerOf(state, 2), reading.checks),
            size_t(std::count_if(reading.checks.begin(), reading.checks.end(), isRaised))};
}

/// Does the table's shake, 22.6° from the frame's side, go within 15° of a diagonal of the chart's patches?
bool isAlongADiagonal(const sim::StudioSettings &s)
{
    const double shake = std::atan2(5, 12) * 180 / std::numbers::pi;
    return std::abs(std::abs(shake - s.chartTurn) - 45) < 15;
}

} // namespace

void MishapTest::theHeadlineAsksForWhatMendsIt_data()
{
    QTest::addColumn<QString>("mishap");
    QTest::addColumn<QString>("action");
    QTest::addColumn<quint64>("seed");
    const std::pair<const char *, const char *> all[] = {
        {"finger", "Clear "},
        {"glare", "Turn the chart or move the lamp: glare on "},
        {"tipped", "Turn the chart to the lamp: "},
        {"veil", "Shade the lens."},
        {"focus", "Focus again: "},
        {"shake", "Use a firmer stand or a shorter time."},
        {"shadow", "Clear the shadow from the chart: the "},
        {"nothing", "Good. |Look again, "}}; // no check; a poor light may be answered by its error alone
    quint64 seed = 5000;
    for (const auto &[mishap, action] : all)
        for (int i = 0; i < 3; ++i)
            QTest::addRow("%s %d", mishap, i) << mishap << action << ++seed;
}

void MishapTest::theHeadlineAsksForWhatMendsIt()
{
    QFETCH(QString, mishap);
    QFETCH(QString, action);
    QFETCH(quint64, seed);
    auto s = anySettings(seed);
    s.finger = mishap == "finger";
    s.glare = mishap == "glare";
    s.tipped = mishap == "tipped";
    s.veiled = mishap == "veil";
    s.outOfFocus = mishap == "focus";
    s.shaken = mishap == "shake";
    s.shadow = mishap == "shadow";
    if (mishap == "shake" && isAlongADiagonal(s)) // where it looks like a defocus
        action += "|Focus again: ";
    const auto told = toldOf(s);
    const auto &said = told.callOut;
    const auto headline = QString::fromStdString(said.headline);
    bool asked = false;
    for (const auto &wanted : action.split('|'))
        asked = asked || headline.startsWith(wanted);
    QVERIFY2(asked, qPrintable(headline + " / " + QString::fromStdString(said.reason)));
    QCOMPARE(told.warnings == 0, mishap == "nothing");
    QVERIFY(mishap == "nothing" || !said.good);
    if (mishap == "finger" || mishap == "glare") {
        const auto patch =
            mishap == "finger" ? patchId(3, s.fingerColumn) : patchId(s.glareRow, s.glareColumn);
        QVERIFY2(headline.contains(QString::fromStdString(patch)), qPrintable(headline));
    }
}

void MishapTest::severalAtOnceAreAnsweredByOneOfThem()
{
    for (uint64_t seed = 1; seed <= 3; ++seed) {
        auto s = anySettings(seed * 7717);
        s.finger = s.veiled = true;
        s.tipped = seed == 2;
        const auto said = toldOf(s).callOut;
        QVERIFY(!said.good);
        const auto headline = QString::fromStdString(said.headline);
        QVERIFY2(headline.startsWith("Take away") || headline.startsWith("Clear") ||
                     headline.startsWith("Shade") || headline.startsWith("Turn the chart"),
                 qPrintable(headline));
    }
}

void MishapTest::aLightMovesOnlyBetweenSoundShots()
{
    auto s = anySettings(41);
    JobState state;
    state.setups = {JobSetup{1, {}, {}}};
    for (int i = 0; i < 2; ++i) {
        s.tipped = i == 0;
        s.veiled = i == 1;
        const auto frame = sim::rawFrameOf(sim::shootStudio(s));
        JobFrame row;
        row.id = RowId(2 + 10 * i);
        row.setup = 1;
        row.part = FramePart::Chart;
        row.camera = frame.camera;
        row.camera.capturedAt = i ? "2026-10-14T11:00:00" : "2026-10-14T09:00:00";
        state.frames.push_back(row);
        FitRequest request;
        request.sha256 = std::string(64, '0');
        apply(state, changeFor(state, row.id, passFrom(*readFrame(frame), request)));
    }
    const Stations stations(state);
    QVERIFY(stations.all()[0]->answer.why != Answer::Why::LightMoved);
}

static const testing::Registered<MishapTest> registeredMishapTest("mishap_test");
#include "mishap_test.moc"
