// Balance, Fit and the export of the real window, by mouse and keys.
#include "app/view/bench/balance/balance_stop.h"
#include "app/view/bench/fit/fit_stop.h"
#include "app/view/charts/tolerance_dialog.h"
#include "app/view/export/export_dialog.h"
#include "app/view/widgets/task_strip.h"
#include "core/formats/camera_profile.h"
#include "core/formats/documents.h"
#include "core/formats/sample_calibration.h"
#include "support/registry.h"
#include "support/window_fixture.h"

#include <QCheckBox>
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
    void twoLightsAreExportedTogether();
    void threeLightsMakeOneProfile();
    void oneCameraIsMatchedToAnother();
    void switchingAPatchOffAnswersAtOnce();

private:
    const BenchFacts &facts() const { return m_window->bench()->facts(); }
    BalanceStop *balance() const { return m_window->bench()->balanceStop(); }
    FitStop *fit() const { return m_window->bench()->fitStop(); }
    static void clickRow(PaintedList *list, int row, Qt::KeyboardModifiers with = {})
    {
        QTest::mouseClick(list->viewport(), Qt::LeftButton, with, list->cell(row).center());
    }
    void undo() { m_window->job()->undoStack()->undo(); }
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
    QCOMPARE(m_window->bench()->openedStop(), 1);
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
    QVERIFY(m_window->bench()->editor()->keepPreset(file, "North"));
    const auto read = balanceFrom(readText(file.toStdString()).operator*(), "north.json");
    QVERIFY(read && read->preset->camera.model == "Tarn 2");
    m_window->bench()->editor()->usePreset(file, {frameNamed("0416"), frameNamed("MB_0051")});
    QCOMPARE(m_window->job()->state().frame(frameNamed("0416"))->balance->multipliers, multipliers);
    QVERIFY(!m_window->job()->state().frame(frameNamed("MB_0051"))->balance);
    // it is there when the job is opened again
    QVERIFY(m_window->openJob(demo()));
    QCOMPARE(m_window->job()->state().frame(frameNamed("0416"))->balance->preset->name, std::string("North"));
    JobChange change;
    for (const char *name : {"0416", "0414"}) {
        const auto before = *m_window->job()->state().frame(frameNamed(name));
        auto after = before;
        after.balance.reset();
        change.frames.push_back({before, after});
    }
    m_window->job()->push("as it was", change);
    m_window->job()->undoStack()->clear();
}

void FitWindowTest::everyCrossingIsThereAndOneIsRecommended()
{
    openBench(3);
    QCOMPARE(facts().calibrations.size(), crossings(false).size());
    const Parts recommended = facts().calibrations[facts().recommended.index].parts;
    QVERIFY(facts().followsReading); // nothing was pressed, and the job answers by the recommended one
    QVERIFY(facts().parts == recommended);
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
    QTest::keyClick(fit(), Qt::Key_Space); // the flick: to the recommended one …
    QVERIFY(facts().parts == recommended);
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
    QCOMPARE(m_window->bench()->editor()->framesToMerge(),
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
    dialog->findChild<QLineEdit *>("aims")->setText("D1=60, D3=128±2@srgb");
    QTest::mouseClick(dialog->findChild<QDialogButtonBox *>()->button(QDialogButtonBox::Ok), Qt::LeftButton);
    QCOMPARE(white().aim, 60.0);
    QVERIFY(!white().passes && white().stops < -1); // L* 60 is 1.4 stops under L* 96
    QCOMPARE(facts().aims[2].aim, 128.0);
    QCOMPARE(sheetOf(m_window->job()->state()).aims, std::string("D1=60, D3=128±2@srgb"));
    undo();
    QCOMPARE(white().aim, own);
}

void FitWindowTest::aLeanIsLaidOverAndTakenOff()
{
    openBench(3);
    const double exact = mean();
    QTest::mouseClick(fit(), Qt::LeftButton, {}, fit()->stepRect(FitStop::Chroma, 3).center());
    QVERIFY(facts().chosen()->lean == (ColourLean{0, 3}));  // shown at once …
    QTRY_COMPARE(m_window->job()->undoStack()->count(), 1); // … and judged anew
    QVERIFY(facts().chosen()->lean == (ColourLean{0, 3}));
    QVERIFY(mean() > exact); // its own proof: livelier is further from the chart
    undo();
    QVERIFY(facts().chosen()->lean == ColourLean{});
    QCOMPARE(mean(), exact);
}

void FitWindowTest::weightsAreKeptWhenTheChartMoves()
{
    openBench(3);
    m_window->bench()->editor()->useWeights("neutrals");
    QTRY_COMPARE(m_window->job()->undoStack()->count(), 1);
    const auto weightOf = [&](const std::string &id) {
        for (const auto &p : facts().chosen()->patches)
            if (p.id == id)
                return p.weight;
        return 0.0;
    };
    QCOMPARE(weightOf("D4"), 4.0);
    m_window->bench()->editor()->switchOff({"C6"});
    QTRY_COMPARE(m_window->job()->undoStack()->count(), 2);
    QCOMPARE(weightOf("D4"), 4.0);
    QCOMPARE(weightOf("A1"), 1.0);
    m_window->bench()->editor()->useWeights("Z1=3");
    QVERIFY(m_window->strip()->message().contains("no patch"));
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
    m_window->bench()->editor()->switchOff({"C6"}); // and is not forgotten
    QTRY_COMPARE(m_window->job()->undoStack()->count(), 2);
    QCOMPARE(facts().chosen()->light.name, std::string("D55"));
    m_window->action("asUnderD50")->trigger(); // this chart has no spectra: said, and nothing done
    QVERIFY(m_window->strip()->message().contains("spectra"));
}

void FitWindowTest::twoLightsAreExportedTogether()
{
    openBench(3, "0424"); // the copy stand's lens is there once; the table's camera has the panel's setup too
    openBench(3, "0414");
    m_window->action("export")->trigger();
    auto *dialog = m_window->findChild<ExportDialog *>();
    QVERIFY(dialog);
    auto *second = dialog->findChild<QComboBox *>("secondLight");
    QVERIFY(second->count() >= 2);
    second->setCurrentIndex(1);
    dialog->findChild<QLineEdit *>("folder")->setText(m_folder.path());
    dialog->findChild<QLineEdit *>("name")->setText("both");
    dialog->findChild<QCheckBox *>("cube")->setChecked(true);
    dialog->findChild<QCheckBox *>("embed")->setChecked(true);
    dialog->findChild<QPushButton *>("write")->click();
    QTRY_VERIFY_WITH_TIMEOUT(!m_window->findChild<ExportDialog *>() || !dialog->isVisible(), 20000);
    const auto profile =
        cameraProfileFrom(*readWhole(m_folder.filePath("both.dcp").toStdString(), 1 << 24), "both.dcp");
    QVERIFY(profile && profile->lights.size() == 2);
    QVERIFY(QFile::exists(m_folder.filePath("both.cube")) && QFile::exists(m_folder.filePath("both.dng")));
    // the same again replaces nothing: a number tells them apart
    ExportSubject again{testing::sampleCalibration(), {1, 1, 1}, {}, {}, {}};
    TaskRunner tasks;
    ExportDialog next(again, m_folder.path(), &tasks);
    next.findChild<QLineEdit *>("name")->setText("both");
    const auto said = next.findChild<QLabel *>("preview")->text();
    QVERIFY2(said.contains("both 2.dcp") && !said.contains("both.dcp"), qPrintable(said));
}

void FitWindowTest::threeLightsMakeOneProfile()
{
    ExportSubject subject{testing::sampleCalibration("Tarn 2", "tungsten"), {}, {}, {}, {}};
    subject.neutral = vectorOf(testing::sampleReading("Tarn 2", "tungsten").patch("D3")->mean);
    for (const char *lamp : {"tube", "daylight"})
        subject.partners.push_back({lamp, testing::sampleCalibration("Tarn 2", lamp),
                                    vectorOf(testing::sampleReading("Tarn 2", lamp).patch("D3")->mean)});
    TaskRunner tasks;
    ExportDialog dialog(subject, m_folder.path(), &tasks);
    dialog.show();
    dialog.findChild<QLineEdit *>("name")->setText("three");
    auto *second = dialog.findChild<QComboBox *>("secondLight"),
         *third = dialog.findChild<QComboBox *>("thirdLight");
    QVERIFY(!third->isEnabled());
    second->setCurrentIndex(1);
    QVERIFY(third->isEnabled());
    third->setCurrentIndex(1); // the same light twice cannot be
    dialog.findChild<QPushButton *>("write")->click();
    QVERIFY(dialog.isVisible() && dialog.findChild<QLabel *>("preview")->text().startsWith("Not written"));
    third->setCurrentIndex(2);
    dialog.findChild<QPushButton *>("write")->click();
    QTRY_VERIFY2_WITH_TIMEOUT(!dialog.isVisible(), qPrintable(dialog.findChild<QLabel *>("preview")->text()),
                              20000);
    const auto profile =
        cameraProfileFrom(*readWhole(m_folder.filePath("three.dcp").toStdString(), 1 << 24), "three.dcp");
    QVERIFY(profile && profile->lights.size() == 3);
    second->setCurrentIndex(0);
    QCOMPARE(third->currentIndex(), 0); // none is none
}

void FitWindowTest::oneCameraIsMatchedToAnother()
{
    openBench(3, "MB_0051");
    m_window->action("match")->trigger();
    auto *choice = m_window->findChild<QInputDialog *>();
    QVERIFY(choice && choice->comboBoxItems().size() >= 1);
    choice->setTextValue(choice->comboBoxItems().first());
    choice->accept();
    QTRY_VERIFY_WITH_TIMEOUT(m_window->findChild<ExportDialog *>(), 10000);
    auto *dialog = m_window->findChild<ExportDialog *>();
    dialog->findChild<QLineEdit *>("folder")->setText(m_folder.path());
    dialog->findChild<QLineEdit *>("name")->setText("match");
    dialog->findChild<QPushButton *>("write")->click();
    QTRY_VERIFY_WITH_TIMEOUT(QFile::exists(m_folder.filePath("match.dcp")), 20000);
    QVERIFY(QFile::exists(demo() + "/handover/HR_0414.reading.json") ||
            QDir(demo() + "/handover").entryList({"*.reading.json"}).size() == 1);
    QTRY_VERIFY(!m_window->findChild<ExportDialog *>() || !dialog->isVisible());
}

void FitWindowTest::switchingAPatchOffAnswersAtOnce()
{
    openBench(1);
    const auto before = facts().calibrations[1].patches.size();
    m_window->bench()->editor()->switchOff({"C6"});
    QCOMPARE(facts().reading->leftOut, std::vector<std::string>{"C6"}); // shown before the fits are done
    QTRY_COMPARE(m_window->job()->undoStack()->count(), 1);
    QCOMPARE(facts().calibrations[1].patches.size(), before - 1);
    QVERIFY(facts().calibrations[1].crossValidated.mean > 0);
}

static const testing::Registered<FitWindowTest> registeredFitWindowTest("fit_window_test");
#include "fit_window_test.moc"
