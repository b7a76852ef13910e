#include "core/station/stations.h"
#include "core/tasks/studio_task.h"
#include "core/tasks/take_task.h"
#include "core/words/answer_words.h"
#include "support/demo_day.h"
#include "support/registry.h"

#include <QTemporaryDir>
#include <QTest>
#include <cmath>
#include <fstream>

using namespace wavechroma;
namespace fs = std::filesystem;

/// A shoot taken in without a window: the demo day's own frames, in other arrangements of folders.
class TakeTaskTest : public QObject
{
    Q_OBJECT
private slots:
    void initTestCase();
    void subfoldersAreSetups();
    void aNewLightBeginsANewSetup();
    void aLightThatCreepsBeginsOneToo();
    void oneSetupForAll();
    void whatIsThereAlreadyAddsNothing();
    void whatCannotBeTakenIsNamed();
    void aStoppedTakeLeavesTheJobAsItWas();

private:
    fs::path at(const char *name) const { return fs::path(m_folder.filePath(name).toStdString()); }
    JobState taken(const char *job, const std::vector<fs::path> &paths, const TakeOptions &options = {})
    {
        const auto report = takeIntoJob(at(job), paths, options);
        if (!report)
            qFatal("%s", report.error().message.c_str());
        return *(*JobStore::open(at(job)))->load();
    }
    QTemporaryDir m_folder;
    JobState m_demo;
};

void TakeTaskTest::initTestCase()
{
    testing::layDemoDay(at("demo"));
    m_demo = *(*JobStore::open(at("demo")))->load();
}

void TakeTaskTest::subfoldersAreSetups()
{
    // each lighting in a folder of its name: the job that the demo makes with its setups told
    for (const auto &frame : m_demo.frames) {
        const auto setup = std::find_if(m_demo.setups.begin(), m_demo.setups.end(),
                                        [&](const auto &s) { return s.id == frame.setup; });
        const auto folder = at("shoot") / setup->title;
        fs::create_directories(folder);
        fs::copy_file(at("demo") / frame.path, folder / fs::path(frame.path).filename());
    }
    const auto state = taken("by-folder", {at("shoot")});
    QCOMPARE(state.frames.size(), m_demo.frames.size());
    QCOMPARE(state.setups.size(), m_demo.setups.size());
    const Stations ours(state), theirs(m_demo);
    QCOMPARE(ours.all().size(), theirs.all().size());
    size_t answered = 0;
    for (const auto *station : theirs.all()) {
        const auto same = std::find_if(ours.all().begin(), ours.all().end(),
                                       [&](const auto *s) { return s->name == station->name; });
        QVERIFY2(same != ours.all().end(), station->name.c_str());
        QCOMPARE((*same)->frames.size(), station->frames.size());
        QCOMPARE((*same)->answer.state, station->answer.state);
        QCOMPARE((*same)->answer.mean, station->answer.mean); // the same numbers, to the last digit
        QCOMPARE(words::reason((*same)->answer), words::reason(station->answer));
        answered += station->answer.mean > 0;
    }
    QVERIFY(answered >= 3);
}

void TakeTaskTest::aNewLightBeginsANewSetup()
{
    // one flat folder: where a chart's neutral differs from those before it, a setup begins
    const auto state = taken("flat", {at("demo") / "frames"});
    QCOMPARE(state.frames.size(), m_demo.frames.size());
    const Stations stations(state);
    int compared = 0;
    for (const auto *station : stations.all()) {
        std::vector<RowId> charts; // those of a bracket that were not chosen too
        for (const auto id : station->frames)
            if (const auto *reading = state.readingOf(id); reading && reading->brief.found)
                charts.push_back(id);
        for (size_t i = 1; i < charts.size(); ++i) { // within a setup the charts agree
            const auto &a = state.readingOf(charts[i - 1])->brief, &b = state.readingOf(charts[i])->brief;
            const auto *x = a.patch("D3"), *y = b.patch("D3");
            compared += x && y;
            if (x && y)
                QVERIFY(std::abs(x->mean.r / x->mean.g / (y->mean.r / y->mean.g) - 1) < 0.045 &&
                        std::abs(x->mean.b / x->mean.g / (y->mean.b / y->mean.g) - 1) < 0.045);
        }
    }
    QVERIFY2(compared >= 3, qPrintable(QString::number(compared)));
    QCOMPARE(state.setups.size(), size_t(3));        // softboxes, the panel, the copy stand
    for (size_t i = 1; i < state.frames.size(); ++i) // taken in the order of their time
        QVERIFY(state.frames[i - 1].camera.capturedAt <= state.frames[i].camera.capturedAt);
}

void TakeTaskTest::aLightThatCreepsBeginsOneToo()
{
    // a lamp that tires: each chart is near the one before it, the last one is far from the first
    fs::create_directories(at("creeping"));
    for (int i = 0; i < 3; ++i) {
        sim::StudioSettings settings;
        settings.shrink = 6;
        settings.drift = 0.5 * i;
        settings.seed = uint64_t(40 + i);
        settings.capturedAt = "2026-10-14T09:2" + std::to_string(i) + ":00";
        const auto shot = shootToFile(settings, at("creeping") / ("shot" + std::to_string(i) + ".dng"));
        QVERIFY2(bool(shot), shot ? "" : shot.error().message.c_str());
    }
    const auto state = taken("crept", {at("creeping")});
    QCOMPARE(state.frames.size(), size_t(3));
    QVERIFY(state.frames[0].setup != state.frames[2].setup);
}

void TakeTaskTest::oneSetupForAll()
{
    const auto one = at("demo") / m_demo.frames[2].path, other = at("demo") / m_demo.frames[16].path;
    const auto state = taken("one", {one, other}, {"Harbour light"});
    QCOMPARE(state.frames.size(), size_t(2));
    QCOMPARE(state.frames[0].setup, state.frames[1].setup);
    QCOMPARE(state.setups.back().title, std::string("Harbour light"));
}

void TakeTaskTest::whatIsThereAlreadyAddsNothing()
{
    const auto first = at("demo") / m_demo.frames[2].path, second = at("demo") / m_demo.frames[4].path;
    const auto before = taken("twice", {first});
    const auto again = takeIntoJob(at("twice"), {first, second, second});
    QVERIFY2(bool(again), again ? "" : again.error().message.c_str());
    QCOMPARE(again->taken, 1);
    QVERIFY(again->known >= 1);
    const auto after = *(*JobStore::open(at("twice")))->load();
    QCOMPARE(after.frames.size(), size_t(2));
    QVERIFY(after.frames[0] == before.frames[0]);
    QCOMPARE(after.readings.size(), before.readings.size());
}

void TakeTaskTest::whatCannotBeTakenIsNamed()
{
    fs::create_directories(at("mixed"));
    std::ofstream(at("mixed") / "broken.dng") << "no picture at all";
    fs::copy_file(at("demo") / m_demo.frames[2].path, at("mixed") / "good.dng");
    const auto report = takeIntoJob(at("mixed-job"), {at("mixed")});
    QVERIFY2(bool(report), report ? "" : report.error().message.c_str());
    QCOMPARE(report->taken, 1);
    QCOMPARE(report->problems.size(), size_t(1));
    QVERIFY(report->problems[0].message.find("broken.dng") != std::string::npos);
    const auto nothing = takeIntoJob(at("nothing-job"), {at("mixed") / "broken.dng"});
    QVERIFY(!nothing && nothing.error().message.find("broken.dng") != std::string::npos);
    QVERIFY(!std::filesystem::exists(at("nothing-job"))); // no empty job is left
    QVERIFY(!takeIntoJob(at("nowhere-job"), {at("not there")}));
    QVERIFY(!JobStore::holdsJob(at("nowhere-job"))); // nothing is left behind
}

void TakeTaskTest::aStoppedTakeLeavesTheJobAsItWas()
{
    const auto before = taken("stopped", {at("demo") / m_demo.frames[2].path});
    std::atomic<bool> stop = false;
    Progress progress;
    progress.cancelled = &stop;
    progress.report = [&](double fraction, const words::Phrase &) { stop = fraction > 0.1; };
    const auto report = takeIntoJob(at("stopped"), {at("demo") / "frames"}, {}, progress);
    QVERIFY(!report);
    QVERIFY(*(*JobStore::open(at("stopped")))->load() == before);
}

static const testing::Registered<TakeTaskTest> registeredTakeTaskTest("take_task_test");
#include "take_task_test.moc"
