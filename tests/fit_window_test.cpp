// Balance, Fit and the export of the real window, by mouse and keys.
#include "app/view/bench/balance/balance_stop.h"
#include "app/view/bench/fit/fit_stop.h"
#include "app/view/charts/tolerance_dialog.h"
#include "app/view/handover/handover.h"
#include "app/view/widgets/task_strip.h"
#include "core/formats/camera_profile.h"
#include "core/formats/documents.h"
#include "core/formats/sample_calibration.h"
#include "core/tasks/fit_task.h"
#include "core/tasks/prove_task.h"
#include "support/registry.h"
#include "support/window_fixture.h"

#include <QComboBox>
#include <QDialogButtonBox>
#include <QInputDialog>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QUndoStack>

using namespace wavechroma;
using namespace wavechroma::app;

class FitWindowTest : public WindowFixture
{
    Q_OBJECT
private slots:
    void initTestCase() { makeDay(); }
    void init() { openWindow(); }
    void cleanup() { closeWindow(); }

    void aGreyIsTakenByAClick();
    void aRungOfTheLadderIsALight();
    void typedLightGivesItsMultipliers();
    void aLeanIsKeptApartAndTakenBack();
    void anAreaOfTheFrameIsNeutral();
    void presetsGoToTheLaneAndAreRefusedByOtherCameras();
    void everyCrossingIsThereAndOneIsRecommended();
    void aBracketIsMergedAndTakenApart();
    void anAimOfOnesOwnIsSeenInTheBalanceStop();
    void aLeanIsLaidOverAndTakenOff();
    void weightsAreKeptWhenTheChartMoves();
    void theFitIsToldItsLight();
    void twoLightsAreDeliveredTogether();
    void oneCameraIsMatchedToAnother();
    void switchingAPatchOffAnswersAtOnce();

private:
    QStringList written(const QString &folder);
    const BenchFacts &facts() const { return m_window->desk()->bench()->facts(); }
    BalanceStop *balance() const { return m_window->desk()->bench()->balanceStop(); }
    FitStop *fit() const { return m_window->desk()->bench()->fitStop(); }
    static void clickRow(PaintedList *list, int row, Qt::KeyboardModifiers with = {})
    {
        QTest::mouseClick(list->viewport(), Qt::LeftButton, with, list->cell(row).center());
    }
    void undo() { m_window->desk()->job()->undoStack()->undo(); }
};

void FitWindowTest::aGreyIsTakenByAClick()
{
    openBench(2);
    QCOMPARE(facts().balance->source.patches, std::vector<std::string>{"D2"});
    QVERIFY(!facts().balanceIsChosen);
    clickRow(balance()->greys(), 3, {});
    QCOMPARE(facts().balance->source.patches, std::vector<std::string>{"D4"});
    // what the window has is what the command line's function gives
    QCOMPARE(facts().balance->multipliers, balanceReading(*facts().reading, {{"D4"}, {}})->multipliers);
    clickRow(balance()->greys(), 2, Qt::ControlModifier);
    QCOMPARE(facts().balance->source.patches, (std::vector<std::string>{"D4", "D3"}));
    QTest::keyClick(balance()->greys(), Qt::Key_Up);
    QCOMPARE(facts().balance->source.patches, std::vector<std::string>{"D3"});
    m_window->action("neutralDefault")->trigger();
    QCOMPARE(facts().balance->source.patches, std::vector<std::string>{"D2"});
    undo();
    QCOMPARE(facts().balance->source.patches, std::vector<std::string>{"D3"});
}

void FitWindowTest::aRungOfTheLadderIsALight()
{
    openBench(2);
    QVERIFY(facts().ladder.size() >= 8);
    clickRow(balance()->ladder(), 0);
    QVERIFY(std::abs(facts().balance->temperature->cctKelvin - facts().ladder[0].light.cctKelvin) < 1);
    QCOMPARE(facts().balance->multipliers, facts().ladder[0].multipliers);
}

void FitWindowTest::typedLightGivesItsMultipliers()
{
    openBench(2);
    m_window->action("balanceLight")->trigger();
    auto *dialog = m_window->findChild<QInputDialog *>();
    QVERIFY(dialog);
    dialog->setTextValue("5000K,+0.002");
    dialog->accept();
    QVERIFY(std::abs(facts().balance->temperature->cctKelvin - 5000) < 0.1 &&
            std::abs(facts().balance->temperature->duv - 0.002) < 1e-6);
    QCOMPARE(facts().balance->multipliers,
             *multipliersFor(cameraLightsFor(facts().chosen(), facts().reading->fileColor), {5000, 0.002}));
}

void FitWindowTest::aLeanIsKeptApartAndTakenBack()
{
    openBench(2);
    const auto plain = facts().balance->multipliers;
    QTest::keyClick(m_window.get(), Qt::Key_Up, Qt::AltModifier);
    QTest::keyClick(m_window.get(), Qt::Key_Up, Qt::AltModifier);
    QTest::keyClick(m_window.get(), Qt::Key_Right, Qt::AltModifier);
    QCOMPARE(facts().balance->lean, (Lean{2, 1}));
    QCOMPARE(facts().balance->multipliers, plain);
    QVERIFY((*facts().balance->leaned)[2] < plain[2]); // less blue is warmer
    clickRow(balance()->leans(), 0);
    QCOMPARE(facts().balance->lean, (Lean{-4, 1}));
    clickRow(balance()->greys(), 2, {});
    QCOMPARE(facts().balance->lean, (Lean{-4, 1})); // another neutral, the same lean
    m_window->action("noLean")->trigger();
    QVERIFY(!facts().balance->leaned);
}

void FitWindowTest::anAreaOfTheFrameIsNeutral()
{
    openBench(2);
    m_window->action("neutralArea")->trigger();
    QCOMPARE(m_window->desk()->bench()->openedStop(), 1);
    const auto middle = view()->patchOnView("D3").toPoint();
    QTest::mouseClick(view(), Qt::LeftButton, {}, middle - QPoint(6, 6));
    QTest::mouseClick(view(), Qt::LeftButton, {}, middle + QPoint(6, 6));
    QVERIFY(facts().balance->source.area);
    const auto *d3 = facts().reading->patch("D3");
    QVERIFY(std::abs(facts().balance->multipliers[0] / (d3->mean.g / d3->mean.r) - 1) < 0.02);
}

void FitWindowTest::presetsGoToTheLaneAndAreRefusedByOtherCameras()
{
    openBench(2);
    clickRow(balance()->greys(), 2, {});
    const auto multipliers = facts().balance->multipliers;
    const QString file = m_folder.filePath("north.json");
    QVERIFY(m_window->desk()->bench()->editor()->keepPreset(file, "North"));
    const auto read = balanceFrom(readText(file.toStdString()).operator*(), "north.json");
    QVERIFY(read && read->preset->camera.model == "Tarn 2");
    m_window->desk()->bench()->editor()->usePreset(file, {frameNamed("0416"), frameNamed("MB_0051")});
    QCOMPARE(m_window->desk()->job()->state().frame(frameNamed("0416"))->balance->multipliers, multipliers);
    QVERIFY(!m_window->desk()->job()->state().frame(frameNamed("MB_0051"))->balance);
    // it is there when the job is opened again
    QVERIFY(m_window->desk()->openJob(demo()));
    QCOMPARE(m_window->desk()->job()->state().frame(frameNamed("0416"))->balance->preset->name,
             std::string("North"));
    JobChange change;
    for (const char *name : {"0416", "0414"}) {
        const auto before = *m_window->desk()->job()->state().frame(frameNamed(name));
        auto after = before;
        after.balance.reset();
        change.frames.push_back({before, after});
    }
    m_window->desk()->job()->push("as it was", change);
    m_window->desk()->job()->undoStack()->clear();
}

void FitWindowTest::everyCrossingIsThereAndOneIsRecommended()
{
    openBench(3);
    QCOMPARE(facts().calibrations.size(), crossings(false).size());
    QVERIFY(facts().followsReading); // nothing was pressed, and the job answers by what serves all its charts
    QVERIFY(facts().common && facts().parts == *facts().common);
    for (const auto &calibration : facts().calibrations) // each has its own place, by a click of its own
        QVERIFY(!fit()->cellRect(calibration.parts).isEmpty());
    QTest::mouseClick(fit(), Qt::LeftButton, {}, fit()->cellRect({"matrix", "greys"}).center());
    QVERIFY(!facts().followsReading);
    QVERIFY(facts().parts == (Parts{"matrix", "greys"}));
    QVERIFY(std::abs(mean() - facts().chosen()->fit.mean) < 1e-9);
    QTest::keyClick(fit(), Qt::Key_Right);
    QVERIFY(facts().parts == (Parts{"roots", "greys"}));
    QTest::keyClick(fit(), Qt::Key_Right);
    QTest::keyClick(fit(), Qt::Key_Right); // the end of the plane
    QVERIFY(facts().parts == (Parts{"field", "greys"}));
    QTest::keyClick(fit(), Qt::Key_Up);
    QVERIFY(facts().parts == (Parts{"field", "as-shot"}));
    QTest::keyClick(fit(), Qt::Key_Down);
    QTest::keyClick(fit(), Qt::Key_Space); // the flick: to the automatic choice …
    QVERIFY(facts().parts == *facts().common);
    QTest::keyClick(fit(), Qt::Key_Space); // … and back
    QVERIFY(facts().parts == (Parts{"field", "greys"}));
    QTest::keyClick(fit(), Qt::Key_Home);
    QVERIFY(facts().followsReading);
}

void FitWindowTest::aBracketIsMergedAndTakenApart()
{
    openBench(3);
    const auto sources = [&] { return facts().chosen()->madeFrom; };
    const auto alone = *facts().chosen();
    QCOMPARE(sources().size(), size_t(1));
    QCOMPARE(m_window->desk()->bench()->editor()->framesToMerge(),
             (std::vector<RowId>{frameNamed("0413"), frameNamed("0415")})); // 0412 had more light
    m_window->action("merge")->trigger();
    QTRY_COMPARE(sources().size(), size_t(3));
    for (const auto &source : sources())
        QCOMPARE(source.sha256.size(), size_t(64));
    QVERIFY(facts().reading->image.find("0414") != std::string::npos); // its own reading stays
    // less noise in each patch than in the one frame's
    for (size_t i = 0; i < alone.patches.size(); ++i)
        QVERIFY(facts().chosen()->patches[i].sd.g < alone.patches[i].sd.g);
    QTest::mouseClick(fit(), Qt::LeftButton, {}, fit()->stepRect(FitStop::Reds, -2).center());
    QTRY_VERIFY(facts().chosen()->lean == (ColourLean{-2, 0}));
    QCOMPARE(sources().size(), size_t(3)); // what is fitted anew stays merged
    m_window->action("merge")->trigger();
    QTRY_COMPARE(sources().size(), size_t(1));
    undo();
    undo();
    undo();
    QCOMPARE(facts().chosen()->matrix, alone.matrix);
}

void FitWindowTest::anAimOfOnesOwnIsSeenInTheBalanceStop()
{
    openBench(2);
    const auto white = [&] { return facts().aims.front(); };
    QCOMPARE(white().id, std::string("D1"));
    const double own = white().aim;
    QVERIFY(std::abs(own - 96.5) < 0.1 &&
            std::abs(white().stops) < 0.1); // the chart's reference, and hardly off
    m_window->action("limits")->trigger();
    auto *dialog = m_window->findChild<ToleranceDialog *>();
    QVERIFY(dialog);
    const auto *limits = dialog->findChild<QTableWidget *>("limits");
    for (int row = 0; row < limits->rowCount(); ++row) // a question, or a limit with its picture
        QCOMPARE(limits->item(row, 0)->icon().isNull(), limits->columnSpan(row, 0) == 2);
    dialog->findChild<QLineEdit *>("aims")->setText("D1=60, D3=128±2@srgb");
    QTest::mouseClick(dialog->findChild<QDialogButtonBox *>()->button(QDialogButtonBox::Ok), Qt::LeftButton);
    QCOMPARE(white().aim, 60.0);
    QVERIFY(!white().passes && white().stops < -1); // L* 60 is 1.4 stops under L* 96
    QCOMPARE(facts().aims[2].aim, 128.0);
    QCOMPARE(sheetOf(m_window->desk()->job()->state()).aims, std::string("D1=60, D3=128±2@srgb"));
    undo();
    QCOMPARE(white().aim, own);
}

void FitWindowTest::aLeanIsLaidOverAndTakenOff()
{
    openBench(3);
    const double exact = mean();
    QTest::mouseClick(fit(), Qt::LeftButton, {}, fit()->stepRect(FitStop::Chroma, 3).center());
    QVERIFY(facts().chosen()->lean == (ColourLean{0, 3}));          // shown at once …
    QTRY_COMPARE(m_window->desk()->job()->undoStack()->count(), 1); // … and judged anew
    QVERIFY(facts().chosen()->lean == (ColourLean{0, 3}));
    QVERIFY(mean() > exact); // its own proof: livelier is further from the chart
    undo();
    QVERIFY(facts().chosen()->lean == ColourLean{});
    QCOMPARE(mean(), exact);
}

void FitWindowTest::weightsAreKeptWhenTheChartMoves()
{
    openBench(3);
    m_window->desk()->bench()->editor()->useWeights("neutrals");
    QTRY_COMPARE(m_window->desk()->job()->undoStack()->count(), 1);
    const auto weightOf = [&](const std::string &id) {
        for (const auto &p : facts().chosen()->patches)
            if (p.id == id)
                return p.weight;
        return 0.0;
    };
    QCOMPARE(weightOf("D4"), 4.0);
    m_window->desk()->bench()->editor()->switchOff({"C6"});
    QTRY_COMPARE(m_window->desk()->job()->undoStack()->count(), 2);
    QCOMPARE(weightOf("D4"), 4.0);
    QCOMPARE(weightOf("A1"), 1.0);
    m_window->desk()->bench()->editor()->useWeights("Z1=3");
    QVERIFY(m_window->desk()->strip()->message().contains("no patch"));
}

void FitWindowTest::theFitIsToldItsLight()
{
    openBench(3);
    QVERIFY(facts().chosen()->light.estimated);
    m_window->action("fitLight")->trigger();
    auto *dialog = m_window->findChild<QInputDialog *>();
    dialog->setTextValue("D55");
    dialog->accept();
    QTRY_COMPARE(facts().chosen()->light.name, std::string("D55"));
    QVERIFY(!facts().chosen()->light.estimated);
    m_window->desk()->bench()->editor()->switchOff({"C6"}); // and is not forgotten
    QTRY_COMPARE(m_window->desk()->job()->undoStack()->count(), 2);
    QCOMPARE(facts().chosen()->light.name, std::string("D55"));
    m_window->action("asUnderD50")->trigger(); // this chart has no spectra: said, and nothing done
    QVERIFY(m_window->desk()->strip()->message().contains("spectra"));
}

/// Writes the delivery that is open, into the folder; the files' names.
QStringList FitWindowTest::written(const QString &folder)
{
    auto *editor = m_window->desk()->handoverPlace()->editor();
    editor->setFolder(folder);
    QSignalSpy finished(editor, &DeliveryEditor::finished);
    editor->write();
    if (!QTest::qWaitFor([&] { return finished.count() > 0; }, 20000))
        return {"not finished"};
    return QDir(folder).entryList(QDir::Files);
}

void FitWindowTest::twoLightsAreDeliveredTogether()
{
    openBench(3, "0414");
    const auto &job = *m_window->desk()->job();
    const auto *chart = job.state().frame(job.currentFrame());
    m_window->action("profiles")->trigger();
    auto *editor = m_window->desk()->handoverPlace()->editor();
    std::vector<RowId> partners; // of the same camera and lens in another setup
    for (const auto *station : job.stations().all())
        if (!station->speaking.empty() && station->setup != chart->setup &&
            samePair(station->camera, chart->camera))
            partners.push_back(station->speaking.front());
    QVERIFY(!partners.empty());
    editor->setLeaving({partners.front()}, true);
    for (const auto &frame : job.state().frames) // a second chart of the same light adds none
        if (frame.id != chart->id && frame.setup == chart->setup && frame.part == FramePart::Chart &&
            !frame.setAside && samePair(frame.camera, chart->camera))
            editor->setLeaving({frame.id}, true);
    auto forms = editor->asked().forms;
    auto &profile = forms.front().profile;
    profile.files = {ProfileFile::Dcp, ProfileFile::Cube, ProfileFile::ChartDng};
    profile.lights = ProfileLights::Joined;
    profile.cubeCoding = CameraCoding::Linear;
    profile.name = "both {date}";
    editor->setForms(forms, "forms");
    // one DNG profile and one copy for both lights; a .cube and the table before it for each
    QTRY_COMPARE(editor->plan().items.size(), size_t(6));
    const auto files = written(m_folder.filePath("joined"));
    QCOMPARE(files.filter(".dcp").size(), 1);
    QCOMPARE(files.filter(".cube").size(), 4);
    QCOMPARE(files.filter("-before.cube").size(), 2);
    QCOMPARE(files.filter(".dng").size(), 1);
    const auto dcp = files.filter(".dcp").first();
    QVERIFY2(dcp.startsWith("both_20"), qPrintable(dcp));
    const auto made =
        cameraProfileFrom(*readWhole(m_folder.filePath("joined/" + dcp).toStdString(), 1 << 24), "both.dcp");
    QVERIFY(made && made->lights.size() == 2);
    QCOMPARE(QString::fromStdString(made->name).replace(' ', '_'), dcp.chopped(4));
    for (const auto &before : files.filter("-before.cube")) { // a table's note names the file that is there
        const auto note = readText(m_folder.filePath("joined/" + before).toStdString());
        QVERIFY2(note && note->find(before.toStdString()) != note->npos, note->substr(0, 600).c_str());
    }
}

void FitWindowTest::oneCameraIsMatchedToAnother()
{
    openBench(3, "MB_0051");
    m_window->action("match")->trigger();
    auto *choice = m_window->findChild<QInputDialog *>();
    QVERIFY(choice && choice->comboBoxItems().size() >= 1);
    choice->setTextValue(choice->comboBoxItems().first());
    choice->accept();
    const auto *job = m_window->desk()->job();
    const auto served = [&] { // product frames of this camera
        int count = 0;
        for (const auto &frame : job->state().frames)
            count += frame.calibration && job->job().serving(frame.id).from == Serving::From::Match;
        return count;
    };
    QTRY_VERIFY_WITH_TIMEOUT(served() > 0, 10000);
    QVERIFY(m_window->desk()->strip()->message().contains("calibrated by it"));
    const auto brought = std::find_if(job->state().calibrations.begin(), job->state().calibrations.end(),
                                      [](const auto &row) { return row.frame == 0; });
    QVERIFY(brought != job->state().calibrations.end() &&
            brought->brief.name.find(" as ") != std::string::npos);
    // the calibration gives this camera's patches the colours that the other one saw
    const QDir handover(demo() + "/handover");
    const auto references = handover.entryList({"*.reading.json"});
    QCOMPARE(references.size(), 1);
    const auto calibration = Result<Calibration>(*brought->calibration);
    const auto *own = m_window->desk()->job()->state().readingOf(frameNamed("MB_0051"));
    QVERIFY(calibration && own);
    const auto proof =
        proveReading(*calibration, *own->reading, handover.filePath(references[0]).toStdString());
    QVERIFY2(bool(proof), proof ? "" : proof.error().message.c_str());
    QVERIFY2(proof->summary.mean < 1.5, qPrintable(QString::number(proof->summary.mean)));
    m_window->desk()->job()->undoStack()->undo();
    QCOMPARE(served(), 0);
}

void FitWindowTest::switchingAPatchOffAnswersAtOnce()
{
    openBench(1);
    const auto before = facts().calibrations[1].patches.size();
    m_window->desk()->bench()->editor()->switchOff({"C6"});
    QCOMPARE(facts().reading->leftOut, std::vector<std::string>{"C6"}); // shown before the fits are done
    QTRY_COMPARE(m_window->desk()->job()->undoStack()->count(), 1);
    QCOMPARE(facts().calibrations[1].patches.size(), before - 1);
    QVERIFY(facts().calibrations[1].crossValidated.mean > 0);
}

static const testing::Registered<FitWindowTest> registeredFitWindowTest("fit_window_test");
#include "fit_window_test.moc"
