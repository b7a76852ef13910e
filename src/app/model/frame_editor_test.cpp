#include "app/model/frame_editor.h"
#include "app/model/job_document.h"
#include "core/tasks/fit_task.h"
#include "support/demo_day.h"
#include "support/registry.h"

#include <QSignalSpy>
#include <QTemporaryDir>
#include <QTest>

using namespace wavechroma;
using namespace wavechroma::app;

/// What can be done with a frame, without a widget: each step changes the job, is undone whole, and ends with
/// what the command line would make.
class FrameEditorTest : public QObject
{
    Q_OBJECT
private slots:
    void initTestCase();
    void init();
    void cleanup();
    void partsAreChosenForTheJob();
    void aLeanIsFittedAnewInOneStep();
    void undoTakesBackWhatIsStillBeingWorkedOut();
    void aPatchIsOffAndOnAgain();
    void aDraggedChartIsOneStep();
    void aBalanceIsOfTheFrame();
    void whatCannotBeRightIsAskedAbout();
    void aPresetIsOfItsLight();
    void aProductFramesBalanceIsShown();
    void aFrameIsSeenBeforeItIsWhole();
    void weightsOutliveAPatchSwitchedOff();
    void aRefitThatFailsTakesNothingAway();
    void aGreyIsRead();
    void nothingIsDoneWithoutAFrame();

private:
    RowId named(const char *name) const
    {
        for (const auto &frame : m_job->state().frames)
            if (frame.path.find(name) != std::string::npos)
                return frame.id;
        return 0;
    }
    QTemporaryDir m_folder;
    std::unique_ptr<TaskRunner> m_tasks;
    std::unique_ptr<JobDocument> m_job;
    std::unique_ptr<FrameEditor> m_editor;
    JobState m_before;
};

void FrameEditorTest::initTestCase()
{
    testing::layDemoDay(m_folder.filePath("demo").toStdString());
}

void FrameEditorTest::init()
{
    m_tasks = std::make_unique<TaskRunner>();
    m_job = std::make_unique<JobDocument>();
    m_editor = std::make_unique<FrameEditor>(m_job.get(), m_tasks.get());
    QVERIFY(bool(m_job->open(m_folder.filePath("demo"))));
    m_job->setCurrentFrame(named("0414"));
    QTRY_VERIFY(m_editor->picture());
    m_before = m_job->state();
}

void FrameEditorTest::cleanup()
{
    m_editor->finishWork();
    while (m_job->undoStack()->canUndo())
        m_job->undoStack()->undo();
    QVERIFY(m_job->state() == m_before); // every step came back whole
    m_editor.reset();
    m_job.reset();
    m_tasks.reset();
}

void FrameEditorTest::partsAreChosenForTheJob()
{
    QVERIFY(m_editor->facts()->followsReading);
    m_editor->chooseParts({"field", "greys"});
    QVERIFY(m_editor->facts()->parts == (Parts{"field", "greys"}));
    QVERIFY(!m_editor->facts()->followsReading);
    QCOMPARE(m_job->undoStack()->count(), 1);
    QVERIFY(m_editor->facts()->proof() ==
            &m_editor->facts()
                 ->proofs[size_t(m_editor->facts()->chosen() - m_editor->facts()->calibrations.data())]);
}

void FrameEditorTest::aLeanIsFittedAnewInOneStep()
{
    m_editor->leanColour({-2, 1});
    m_editor->finishWork();
    QCOMPARE(m_job->undoStack()->count(), 1);
    QVERIFY(m_editor->facts()->chosen()->lean == (ColourLean{-2, 1}));
    // the same as a fit asked for by the command line
    const auto &stored = *m_editor->facts()->chosen();
    const auto again = *fitReading(*m_editor->facts()->reading, requestOf(stored));
    QVERIFY(again.parts == stored.parts && again.matrix == stored.matrix);
    QCOMPARE(again.crossValidated.mean, stored.crossValidated.mean);
}

void FrameEditorTest::undoTakesBackWhatIsStillBeingWorkedOut()
{
    QVERIFY(!m_editor->canTakeBack());
    m_editor->leanColour({-1, 0});
    m_editor->finishWork();
    const auto first = m_editor->facts()->chosen()->lean;
    m_editor->leanColour({-3, 0});
    QVERIFY(m_editor->canTakeBack());
    m_editor->takeBack(); // the second lean, not the first
    QTRY_VERIFY(!m_editor->isBusy());
    QCOMPARE(m_job->undoStack()->count(), 1);
    QVERIFY(m_job->undoStack()->canUndo());
    QCOMPARE(m_editor->facts()->chosen()->lean, first);
    m_editor->takeBack();
    QVERIFY(m_job->state() == m_before);
    QVERIFY(!m_editor->canTakeBack());
}

void FrameEditorTest::aPatchIsOffAndOnAgain()
{
    m_editor->clickPatch("B2");
    m_editor->finishWork();
    QVERIFY(m_editor->facts()->reading->leftOut == std::vector<std::string>{"B2"});
    for (const auto &calibration : m_editor->facts()->calibrations)
        for (const auto &patch : calibration.patches)
            QVERIFY(patch.id != "B2");
    m_editor->clickPatch("B2");
    m_editor->finishWork();
    QVERIFY(m_editor->facts()->reading->leftOut.empty());
    QCOMPARE(m_job->undoStack()->count(), 2);
}

void FrameEditorTest::aDraggedChartIsOneStep()
{
    const auto corners = m_editor->facts()->reading->corners;
    const double share = m_editor->facts()->reading->windowShare;
    QSignalSpy changed(m_editor.get(), &FrameEditor::factsChanged);
    auto moved = corners;
    for (int step = 1; step <= 5; ++step) {
        moved[2].x = corners[2].x + step;
        m_editor->follow(moved, share, step == 5);
    }
    m_editor->finishWork();
    QVERIFY(changed.count() >= 1);
    QCOMPARE(m_job->undoStack()->count(), 1);
    QCOMPARE(m_editor->facts()->reading->corners[2].x, corners[2].x + 5);
    QVERIFY(m_editor->facts()->reading->placedBy == PlacedBy::Hand);
    QVERIFY(m_editor->facts()->proof() && !m_editor->facts()->proof()->patches.empty());
}

void FrameEditorTest::aBalanceIsOfTheFrame()
{
    m_editor->balanceFromGreys({"D4"});
    m_editor->finishWork();
    const auto id = named("0414");
    QVERIFY(m_job->state().frame(id)->balance && m_editor->facts()->balanceIsChosen);
    const auto chosen = m_job->state().frame(id)->balance->multipliers;
    QCOMPARE(chosen, balanceReading(*m_editor->facts()->reading, {{"D4"}, {}})->multipliers);
    m_editor->leanBy(1, 0);
    QCOMPARE(m_job->state().frame(id)->balance->multipliers, chosen); // the lean is kept apart
    QVERIFY((*m_job->state().frame(id)->balance->leaned)[2] < chosen[2]);
    m_editor->dropBalance();
    m_editor->finishWork();
    QVERIFY(!m_job->state().frame(id)->balance);
}

/// Each does nothing until whoever asked says that they know better.
void FrameEditorTest::whatCannotBeRightIsAskedAbout()
{
    QString said;
    std::function<void()> allTheSame;
    connect(m_editor.get(), &FrameEditor::doubted, this,
            [&](const QString &message, const std::function<void()> &doIt) {
                said = message;
                allTheSame = doIt;
            });
    const auto asked = [&](const char *words) {
        m_editor->finishWork();
        const bool right = said.contains(words) && m_job->undoStack()->count() == 0;
        said.clear();
        return right;
    };
    m_editor->balanceFromGreys({"A2"});
    QVERIFY(asked("A2 is not neutral"));
    const auto &frame = *m_editor->facts()->frame;
    m_editor->balanceFromArea({0, 0}, {double(frame.width), double(frame.height)});
    QVERIFY(asked("is not plain"));
    m_editor->fitUnderLight("A");
    QVERIFY(asked("cannot be under"));
    allTheSame();
    m_editor->finishWork();
    QCOMPARE(m_job->undoStack()->count(), 1);
    QVERIFY(!m_editor->facts()->chosen()->light.estimated);
    m_editor->fitUnderLight("5500K");
    m_editor->finishWork();
    QVERIFY(said.isEmpty());
    QCOMPARE(m_job->undoStack()->count(), 2);
}

void FrameEditorTest::aPresetIsOfItsLight()
{
    const auto file = m_folder.filePath("north.balance.json");
    m_editor->balanceFromGreys({"D4"});
    QVERIFY(m_editor->keepPreset(file, "North"));
    QSignalSpy told(m_editor.get(), &FrameEditor::problem);
    const RowId other = named("0414"); // the same camera under the copy stand's lamps, with a chart too
    RowId stand = 0;
    for (const auto &row : m_job->state().readings)
        if (row.brief.found && m_job->state().frame(row.frame)->setup != m_job->state().frame(other)->setup &&
            row.brief.camera.model == m_job->state().frame(other)->camera.model &&
            !refusedPreset(*m_job->state().frame(other)->balance, *row.reading, m_editor->facts()->chart) ==
                false)
            stand = row.frame;
    QVERIFY(stand != 0);
    m_editor->usePreset(file, {stand});
    QVERIFY(!m_job->state().frame(stand)->balance);
    QVERIFY(told.count() == 1 && told[0][0].toString().contains("another light than the preset North"));
}

void FrameEditorTest::aProductFramesBalanceIsShown()
{
    RowId product = 0;
    for (const auto &frame : m_job->state().frames)
        if (frame.part == FramePart::Product)
            product = frame.id;
    m_job->setCurrentFrame(product);
    QTRY_VERIFY(m_editor->picture() && m_editor->picture()->id == product);
    QVERIFY(!m_editor->facts()->reading && !m_editor->facts()->balanceIsChosen);
    const auto serving = m_job->stations().calibrationFor(m_job->state(), product);
    QCOMPARE(m_editor->facts()->balance->multipliers, serving->calibration->multipliers); // the station's
    m_editor->balanceFromLight({5000, 0});
    QVERIFY(m_editor->facts()->balanceIsChosen);
    QCOMPARE(m_editor->facts()->balance->multipliers, m_job->state().frame(product)->balance->multipliers);
}

/// The sizes that a whole frame is seen at come first; what was changed meanwhile is not lost with the rest.
void FrameEditorTest::aFrameIsSeenBeforeItIsWhole()
{
    std::vector<std::shared_ptr<const OpenFrame>> seen;
    QObject listener;
    connect(m_editor.get(), &FrameEditor::pictureChanged, &listener, [&] {
        if (const auto &open = m_editor->picture(); open && open->id == named("0416")) {
            if (seen.empty()) // between the first picture and the rest
                m_editor->balanceFromLight({3200, 0});
            seen.push_back(open);
        }
    });
    m_job->setCurrentFrame(named("0416"));
    QTRY_VERIFY(!seen.empty() && !seen.back()->exposure.cells.empty());
    const auto &first = *seen.front();
    QVERIFY(first.levels.size() > 1 && first.levels.front().isNull() && first.exposure.cells.empty());
    QVERIFY(!first.levels.back().isNull());
    const auto shownByTheNewBalance = [&] {
        const auto &now = *seen.back();
        return now.multipliers == m_job->state().frame(named("0416"))->balance->multipliers &&
               std::none_of(now.levels.begin(), now.levels.end(), [](const auto &l) { return l.isNull(); });
    };
    QTRY_VERIFY(shownByTheNewBalance());
    QCOMPARE(seen.back()->levels.size(), first.levels.size());
    for (qsizetype i = 1; i < first.levels.size(); ++i) { // nothing moves: but for an odd last row
        const auto more = seen.back()->levels[i].size() - first.levels[i].size();
        QVERIFY(more.width() >= 0 && more.width() <= 1 && more.height() >= 0 && more.height() <= 1);
    }
}

void FrameEditorTest::weightsOutliveAPatchSwitchedOff()
{
    m_editor->useWeights("B2=4");
    m_editor->finishWork();
    QCOMPARE(m_editor->weights(), QString("B2=4"));
    for (int i = 0; i < 2; ++i) {
        m_editor->clickPatch("B2");
        m_editor->finishWork();
    }
    QCOMPARE(m_editor->weights(), QString("B2=4"));
}

/// The reading stays, so its calibrations do, and the reason is said.
void FrameEditorTest::aRefitThatFailsTakesNothingAway()
{
    const auto id = named("0414");
    const auto *row = m_job->state().readingOf(id);
    auto unknown = *row->reading; // as from a job whose own chart is gone
    unknown.chart = "nowhere";
    JobChange change;
    change.readings.push_back({*row, jobReading(row->id, id, unknown)});
    m_job->push("", change);
    const auto before = m_job->state().calibrationsOf(id).size();
    QVERIFY(before > 0);
    QSignalSpy told(m_editor.get(), &FrameEditor::problem);
    m_editor->leanColour({1, 1});
    m_editor->finishWork();
    QVERIFY(told.count() >= 1 && told[0][0].toString().contains("nowhere"));
    QCOMPARE(m_job->state().calibrationsOf(id).size(), before);
    QCOMPARE(m_job->undoStack()->count(), 1);
}

void FrameEditorTest::aGreyIsRead()
{
    RowId board = 0;
    for (const auto &frame : m_job->state().frames)
        if (frame.part == FramePart::Flat)
            board = frame.id;
    m_editor->readWhite(board); // even, and fills the frame
    m_editor->finishWork();
    const auto *grey = m_job->state().frame(board);
    QVERIFY(grey->part == FramePart::Grey && m_job->state().readingOf(board));
    QVERIFY(m_job->stations().answerOf(m_job->state(), board).why == Answer::Why::WhiteAlone);
    QCOMPARE(m_job->undoStack()->count(), 1);
    QSignalSpy told(m_editor.get(), &FrameEditor::problem);
    m_editor->readWhite(named("0416")); // yarns
    m_editor->finishWork();
    QCOMPARE(told.count(), 1);
    QVERIFY(m_job->state().frame(named("0416"))->part == FramePart::Product);
    QCOMPARE(m_job->undoStack()->count(), 1);
}

void FrameEditorTest::nothingIsDoneWithoutAFrame()
{
    m_job->setCurrentFrame(0);
    QTRY_VERIFY(!m_editor->facts()->frame);
    m_editor->leanColour({1, 1});
    m_editor->clickPatch("B2");
    m_editor->balanceFromGreys({"D4"});
    m_editor->readAgain();
    m_editor->finishWork();
    QCOMPARE(m_job->undoStack()->count(), 0);
}

static const wavechroma::testing::Registered<FrameEditorTest> registeredFrameEditorTest("frame_editor_test");
#include "frame_editor_test.moc"
