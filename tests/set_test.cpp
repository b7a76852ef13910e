#include "app/view/charts/chart_choice.h"
#include "app/view/charts/charts_dialog.h"
#include "app/view/charts/layout_dialog.h"
#include "app/view/charts/tolerance_dialog.h"
#include "app/view/day/call_out.h"
#include "app/view/day/setup_dialog.h"
#include "app/view/frame/frame_view.h"
#include "app/view/studio/studio_panel.h"
#include "core/capture/scale.h"
#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/formats/dng_frame.h"
#include "core/words/frame_words.h"
#include "support/registry.h"
#include "support/sim_dng.h"
#include "support/window_fixture.h"

#include <QAction>
#include <QApplication>
#include <QCheckBox>
#include <QComboBox>
#include <QDialogButtonBox>
#include <QDir>
#include <QDoubleSpinBox>
#include <QFile>
#include <QInputDialog>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMessageBox>
#include <QPushButton>
#include <QSignalSpy>
#include <QSpinBox>
#include <QTableWidget>
#include <QTimer>
#include <QWheelEvent>
#include <cmath>
#include <set>

using namespace wavechroma;
using namespace wavechroma::app;

/// The set: shooting, placing the chart by hand, charts and limits, frames that arrive.
class SetTest : public WindowFixture
{
    Q_OBJECT
private slots:
    void initTestCase() { makeDay(); }
    void init() { openWindow(); }
    void cleanup() { closeWindow(); }
    void aNewUserShootsADayInTheStudio();
    void aDroppedCornerIsDrawnToThePatch();
    void aClickSwitchesAPatchOff();
    void threeClicksPlaceTheChart();
    void aPlacementIsCarriedThroughTheBracket();
    void aRulerOfTwoClicksGivesTheScale();
    void theFrameIsShownAsItIs();
    void referencesAreMeasuredImportedAndRefused();
    void anOwnChartIsDrawnOverAFrame();
    void anOwnLayoutIsDrawnPatchByPatch();
    void anOwnChartLeavesTheCatalogueAlone();
    void aStricterSheetHoldsTheNextReading();
    void twoHundredFilesAreTakenOnce();
    void aFrameIsReadAsTheChartThatIsChosen();
    void setupsKeepWhatTheLightsWere();
    void aFlatTellsHowEvenItIs();
    void theWheelSizesAllWindows();
    void aLimitIsEditedInTheSheet();
};

/// Real presses only: a job is made, the studio opened, a chart shot twice and read, yarn shot after it.
void SetTest::aNewUserShootsADayInTheStudio()
{
    QVERIFY(bool(m_window->desk()->job()->create(m_folder.filePath("studio-day"),
                                                 "Studio day"))); // the file dialog is the system's
    m_window->desk()->showDaySheet();
    QTest::keyClick(m_window.get(), Qt::Key_F6);
    auto *studio = m_window->desk()->studio();
    QVERIFY(studio->isVisible());
    const auto &state = m_window->desk()->job()->state();
    auto *shoot = studio->findChild<QPushButton *>("shoot");
    const auto choose = [&](const char *box, const char *first) { // by keyboard, as a list is chosen
        auto *combo = studio->findChild<QComboBox *>(box);
        combo->setFocus();
        QTest::keyClicks(combo, first);
    };
    choose("camera", "Sk");
    choose("time", "1/100");
    QCOMPARE(studio->settings().camera, std::string("Tarn 2"));
    // the first shot has a finger on the chart
    auto *finger = studio->findChild<QCheckBox *>("finger");
    QTest::mouseClick(finger, Qt::LeftButton, {}, QPoint(8, finger->height() / 2));
    QVERIFY(studio->settings().finger);
    QTest::mouseClick(shoot, Qt::LeftButton);
    QVERIFY(m_window->desk()->watch()->isWatching());
    QTRY_COMPARE_WITH_TIMEOUT(state.frames.size(), size_t(1), 60000);
    QTRY_VERIFY_WITH_TIMEOUT(m_window->desk()->callOut()->isVisible(), 30000);
    QVERIFY(!m_window->desk()->callOut()->said().good);
    QVERIFY2((m_window->desk()->callOut()->said().headline + m_window->desk()->callOut()->said().reason)
                     .find("D3") != std::string::npos,
             m_window->desk()->callOut()->said().reason.c_str());
    QTest::keyClick(m_window->desk()->callOut(), Qt::Key_Space);
    // take it away and shoot again
    QTest::mouseClick(finger, Qt::LeftButton, {}, QPoint(8, finger->height() / 2));
    QTest::mouseClick(shoot, Qt::LeftButton);
    QTRY_COMPARE_WITH_TIMEOUT(state.frames.size(), size_t(2), 60000);
    QTRY_VERIFY_WITH_TIMEOUT(m_window->desk()->callOut()->isVisible(), 30000);
    QVERIFY2(m_window->desk()->callOut()->said().good, m_window->desk()->callOut()->said().headline.c_str());
    QTest::keyClick(m_window->desk()->callOut(), Qt::Key_Return);
    QVERIFY(m_window->desk()->bench()->isVisible());
    QVERIFY(m_window->desk()->bench()->facts().proof()->summary.mean < 2);
    QTest::keyClick(m_window.get(), Qt::Key_Escape);
    // yarn under the same light belongs to that chart
    choose("subject", "yarn");
    QTest::keyClick(m_window.get(), Qt::Key_Space, Qt::ControlModifier);
    QTRY_COMPARE_WITH_TIMEOUT(state.frames.size(), size_t(3), 60000);
    QCOMPARE(state.frames[2].part, FramePart::Product);
    const auto &stations = m_window->desk()->job()->stations();
    QCOMPARE(stations.all().size(), size_t(1));
    const auto serving = stations.servingOf(state, state.frames[2].id);
    QCOMPARE(serving.chart, state.frames[1].id);
    QVERIFY(serving.doubts.empty());
    // another lamp: the panel asks for a new setup
    choose("lamp", "tung");
    const auto labels = studio->findChildren<QLabel *>();
    QVERIFY(std::any_of(labels.begin(), labels.end(),
                        [](const QLabel *l) { return l->text().contains("Ctrl+L"); }));
}

void SetTest::aDroppedCornerIsDrawnToThePatch()
{
    openBench(1);
    const auto before = m_window->desk()->bench()->facts().reading->corners;
    drag(view()->viewFromFrame(before[1]), {9, -7});
    const auto snapped = m_window->desk()->bench()->facts().reading->corners;
    QVERIFY(m_window->desk()->bench()->facts().reading->placedBy == PlacedBy::Hand);
    QVERIFY2(std::hypot(snapped[1].x - before[1].x, snapped[1].y - before[1].y) < 0.6,
             qPrintable(QString("%1 %2, dropped by %3")
                            .arg(snapped[1].x - before[1].x)
                            .arg(snapped[1].y - before[1].y)
                            .arg(9 / view()->zoom())));
    m_window->action("snap")->trigger(); // off: it stays where it is put
    drag(view()->viewFromFrame(snapped[1]), {9, -7});
    QVERIFY(
        std::abs((m_window->desk()->bench()->facts().reading->corners[1].x - snapped[1].x) * view()->zoom() -
                 9) < 1.5);
}

void SetTest::aClickSwitchesAPatchOff()
{
    openBench(1);
    const auto used = m_window->desk()->bench()->facts().chosen()->patches.size();
    QTest::mouseClick(view(), Qt::LeftButton, {}, view()->patchOnView("B3").toPoint());
    QCOMPARE(m_window->desk()->bench()->facts().reading->leftOut, std::vector<std::string>{"B3"});
    QCOMPARE(m_window->desk()->bench()->facts().chosen()->patches.size(), used - 1);
    QTest::mouseClick(view(), Qt::LeftButton, {}, view()->patchOnView("B3").toPoint());
    QCOMPARE(m_window->desk()->bench()->facts().chosen()->patches.size(), used);
    m_window->action("patchesOff")->trigger(); // the same from the keyboard
    auto *dialog = m_window->findChild<QInputDialog *>();
    dialog->setTextValue("a1, C4");
    dialog->accept();
    QCOMPARE(m_window->desk()->bench()->facts().reading->leftOut, (std::vector<std::string>{"A1", "C4"}));
}

void SetTest::threeClicksPlaceTheChart()
{
    openBench(1);
    const auto truth = m_window->desk()->bench()->facts().reading->corners;
    m_window->action("threeCorners")->trigger();
    for (size_t i = 0; i < 3; ++i) // as roughly as a hand does
        QTest::mouseClick(view(), Qt::LeftButton, {},
                          (view()->viewFromFrame(truth[i]) + QPointF(3, -2)).toPoint());
    QTRY_COMPARE_WITH_TIMEOUT(m_window->desk()->bench()->facts().reading->placedBy, PlacedBy::Hand, 20000);
    const auto &placed = m_window->desk()->bench()->facts().reading->corners;
    for (size_t i = 0; i < 4; ++i)
        QVERIFY2(
            std::hypot(placed[i].x - truth[i].x, placed[i].y - truth[i].y) < 1,
            qPrintable(
                QString("%1: %2 %3").arg(i).arg(placed[i].x - truth[i].x).arg(placed[i].y - truth[i].y)));
}

void SetTest::aPlacementIsCarriedThroughTheBracket()
{
    openBench(1, "0413");
    QTest::mouseClick(view(), Qt::LeftButton, {}, view()->patchOnView("A2").toPoint());
    m_window->action("carry")->trigger();
    const auto &state = m_window->desk()->job()->state();
    QTRY_COMPARE_WITH_TIMEOUT(state.readingOf(frameNamed("0415"))->reading->placedBy, PlacedBy::Hand, 20000);
    for (const char *name : {"0414", "0415"}) {
        const auto &reading = *state.readingOf(frameNamed(name))->reading;
        QCOMPARE(reading.leftOut, std::vector<std::string>{"A2"});
        QCOMPARE(reading.placedBy, PlacedBy::Hand);
        QVERIFY(reading.image.find(name) != std::string::npos);
    }
    QCOMPARE(state.readingOf(frameNamed("0419"))->reading->placedBy,
             PlacedBy::Search); // not beyond the bracket
}

void SetTest::aRulerOfTwoClicksGivesTheScale()
{
    openBench(1);
    const auto &reading = *m_window->desk()->bench()->facts().reading;
    const auto expected = scaleOf(reading, m_window->desk()->bench()->facts().chart)->pixelsPerInch();
    QVERIFY(std::abs(m_window->desk()->bench()->facts().scale->scale.pixelsPerInch() - expected) < 1e-9);
    QTest::keyClick(m_window.get(), Qt::Key_R);
    for (size_t i : {0u, 1u})
        QTest::mouseClick(view(), Qt::LeftButton, {}, view()->viewFromFrame(reading.corners[i]).toPoint());
    auto *dialog = m_window->findChild<QInputDialog *>();
    QVERIFY(dialog);
    dialog->setDoubleValue(chartExtent(m_window->desk()->bench()->facts().chart).x);
    dialog->accept();
    const auto words = view()->rulerWords();
    QVERIFY2(std::abs(words.section(' ', 0, 0).toDouble() / expected - 1) < 0.02,
             qPrintable(words)); // screen pixels are coarse here
}

void SetTest::theFrameIsShownAsItIs()
{
    openBench(1, "0412");                                                      // the clipped one
    QTRY_VERIFY_WITH_TIMEOUT(!view()->frame()->exposure.cells.empty(), 20000); // comes after the picture
    const auto &levels = view()->frame()->exposure;
    QVERIFY(levels.clipped[1] > 0.001 && levels.stopsDown);
    const auto plain = view()->grab().toImage();
    QTest::keyClick(m_window.get(), Qt::Key_H);
    QVERIFY(view()->isHatched());
    const auto hatched = view()->grab().toImage();
    const auto white = view()->patchOnView("D1").toPoint();
    int changed = 0;
    for (int dy = -8; dy <= 8; ++dy)
        for (int dx = -8; dx <= 8; ++dx)
            changed += plain.pixel(white + QPoint(dx, dy)) != hatched.pixel(white + QPoint(dx, dy));
    QVERIFY(changed > 30); // of 289
    QTest::keyClick(m_window.get(), Qt::Key_L);
    QVERIFY(view()->hasLoupe());
    view()->setFocus();
    QTest::keyClick(view(), Qt::Key_Right);
    QTest::keyClick(m_window.get(), Qt::Key_L);
    QTest::keyClick(m_window.get(), Qt::Key_H);
    QVERIFY(!view()->hasLoupe() && !view()->isHatched());
}

void SetTest::referencesAreMeasuredImportedAndRefused()
{
    m_window->action("charts")->trigger();
    auto *dialog = m_window->findChild<ChartsDialog *>();
    QVERIFY(dialog);
    QTest::mouseClick(dialog->findChild<QPushButton *>("measure"), Qt::LeftButton);
    const auto &charts = m_window->desk()->job()->state().charts;
    QCOMPARE(charts.size(), size_t(1));
    QVERIFY(charts[0].inUse && charts[0].definition.patches[0].reflectance);
    QFile table(m_folder.filePath("batch.csv"));
    QVERIFY(table.open(QIODevice::WriteOnly));
    QByteArray words = "id,L,a,b\n";
    for (const auto &patch : chartCatalogue().front().patches) {
        const auto lab = labFromXyz(patch.reference);
        words += QString("%1,%2,%3,%4\n")
                     .arg(QString::fromStdString(patch.id))
                     .arg(lab.l - 1)
                     .arg(lab.a)
                     .arg(lab.b)
                     .toUtf8();
    }
    table.write(words);
    table.close();
    dialog->importFile(table.fileName());
    QCOMPARE(charts.size(), size_t(2));
    QVERIFY(!charts[0].inUse && charts[1].inUse); // side by side, the newer one in use
    const auto *preview = dialog->findChild<QWidget *>("referencePreview");
    QVERIFY(preview && preview->isVisibleTo(dialog)); // what was understood, beside the usual colours
    const auto labels = dialog->findChildren<QLabel *>();
    QVERIFY(std::any_of(labels.begin(), labels.end(), [](const QLabel *label) {
        return label->text().contains("batch.csv: read as L*, a*, b* under D50");
    }));
    QCOMPARE(chartsOf(m_window->desk()->job()->state()).front().reference.source,
             table.fileName().toStdString());
    dialog->findChild<QTableWidget *>("charts")->item(0, 0)->setCheckState(
        Qt::Checked); // back to the older one
    QTRY_VERIFY(charts[0].inUse && !charts[1].inUse);
    dialog->findChild<QTableWidget *>("charts")->item(0, 0)->setCheckState(
        Qt::Unchecked); // none: the shipped values
    QTRY_VERIFY(!charts[0].inUse);
    QVERIFY(chartsOf(m_window->desk()->job()->state()).front() == chartCatalogue().front());
    QVERIFY(table.open(QIODevice::WriteOnly));
    table.write(words.replace("A3,", "A3,x"));
    table.close();
    dialog->importFile(table.fileName());
    QVERIFY2(dialog->fault().contains("line 4") && dialog->fault().contains("not a number"),
             qPrintable(dialog->fault()));
    QCOMPARE(charts.size(), size_t(2));
    dialog->reject();
}

void SetTest::anOwnChartIsDrawnOverAFrame()
{
    openBench(1);
    m_window->action("drawChart")->trigger();
    auto *dialog = m_window->findChild<LayoutDialog *>();
    QVERIFY(dialog);
    dialog->findChild<QLineEdit *>("name")->setText("Harbour paints");
    dialog->findChild<QSpinBox *>("rows")->setValue(3);
    dialog->findChild<QSpinBox *>("columns")->setValue(5);
    dialog->view()->zoomToPixels(); // and its corners are set on true pixels
    QTRY_VERIFY_WITH_TIMEOUT(!dialog->view()->pixelArea().isEmpty(), 20000);
    QTest::mouseClick(dialog->findChild<QDialogButtonBox *>()->button(QDialogButtonBox::Ok), Qt::LeftButton);
    QTRY_COMPARE(m_window->desk()->job()->state().charts.size(), size_t(1));
    const auto &made = m_window->desk()->job()->state().charts[0].definition;
    QCOMPARE(made.id, std::string("harbour-paints"));
    QCOMPARE(made.patches.size(), size_t(15));
    QVERIFY(made.colorsKnown); // by the station's calibration
}

/// Two sizes and a disc over the demo's chart: where the patches are drawn is where they are read.
void SetTest::anOwnLayoutIsDrawnPatchByPatch()
{
    openBench(1);
    const auto reading = *m_window->desk()->bench()->facts().reading;
    m_window->action("drawChart")->trigger();
    auto *dialog = m_window->findChild<LayoutDialog *>();
    QVERIFY(dialog);
    dialog->findChild<QLineEdit *>("name")->setText("Corner fields");
    dialog->findChild<QComboBox *>("kind")->setCurrentIndex(1);
    QString said;
    QTimer::singleShot(0, dialog, [&said] {
        auto *box = qobject_cast<QMessageBox *>(QApplication::activeModalWidget());
        said = box ? box->text() : QString();
        if (box)
            box->accept();
    });
    QTest::mouseClick(dialog->findChild<QDialogButtonBox *>()->button(QDialogButtonBox::Ok), Qt::LeftButton);
    QVERIFY2(said.contains("at least one patch"), qPrintable(said));
    QVERIFY(m_window->desk()->job()->state().charts.empty());
    const auto chart = *chartOf(reading);
    const auto place = *homographyFrom(chart, reading.corners);
    const auto draw = [&](const char *button, int row, int column, double share) {
        const auto from = patchWindow(chart, place, row, column, share);
        QTest::mouseClick(dialog->findChild<QPushButton *>(button), Qt::LeftButton);
        for (const size_t corner : {0, 2})
            QTest::mouseClick(dialog->view(), Qt::LeftButton, {},
                              dialog->view()->viewFromFrame(from[corner]).toPoint());
    };
    draw("drawPatch", 0, 0, 0.95);
    draw("drawPatch", 3, 5, 0.6);
    draw("drawDisc", 2, 2, 0.8);
    draw("drawDisc", 1, 4, 0.8);
    auto *list = dialog->findChild<QListWidget *>("patches");
    QCOMPARE(list->count(), 4);
    list->item(1)->setText("black");
    list->setCurrentRow(3);
    QTest::mouseClick(dialog->findChild<QPushButton *>("removePatch"), Qt::LeftButton);
    QCOMPARE(list->count(), 3);
    QTest::mouseClick(dialog->findChild<QDialogButtonBox *>()->button(QDialogButtonBox::Ok), Qt::LeftButton);
    QTRY_COMPARE(m_window->desk()->job()->state().charts.size(), size_t(1));
    const auto &made = m_window->desk()->job()->state().charts[0].definition;
    QCOMPARE(made.patches.size(), size_t(3));
    QVERIFY(made.patch("black") && made.patch("3") && made.places[2].isDisc && !made.places[1].isDisc);
    // their colours are those that the frame has there, by its station's calibration
    const auto lightness = [&](const char *id) { return labFromXyz(made.patch(id)->reference).l; };
    QVERIFY(made.colorsKnown && lightness("black") < 30);
    const auto &truth = *chart.patch("A1");
    QVERIFY(de2000(labFromXyz(made.patch("1")->reference), labFromXyz(truth.reference)) < 4);
}

/// A chart of one's own under a name of the catalogue's does not stand in for the catalogue's.
void SetTest::anOwnChartLeavesTheCatalogueAlone()
{
    openBench(1);
    m_window->action("drawChart")->trigger();
    auto *dialog = m_window->findChild<LayoutDialog *>();
    QVERIFY(dialog);
    dialog->findChild<QLineEdit *>("name")->setText("Classic 24");
    QTest::mouseClick(dialog->findChild<QDialogButtonBox *>()->button(QDialogButtonBox::Ok), Qt::LeftButton);
    QTRY_COMPARE(m_window->desk()->job()->state().charts.size(), size_t(1));
    QVERIFY(!chartFromCatalogue(m_window->desk()->job()->state().charts[0].definition.id));
    QVERIFY(chartsOf(m_window->desk()->job()->state()).front() == chartCatalogue().front());
}

void SetTest::aStricterSheetHoldsTheNextReading()
{
    openBench(1);
    m_window->action("limits")->trigger();
    auto *dialog = m_window->findChild<ToleranceDialog *>();
    auto *sheets = dialog->findChild<QComboBox *>("sheet");
    sheets->setFocus();
    QTest::keyClick(sheets, Qt::Key_Down);
    emit sheets->activated(sheets->currentIndex());
    dialog->findChild<QDoubleSpinBox *>("ppi")->setValue(600);
    dialog->accept();
    QCOMPARE(sheetOf(m_window->desk()->job()->state()).name, std::string("strict"));
    QVERIFY(!m_window->desk()->bench()->facts().scale->good); // far from 600
    m_window->action("readAgain")->trigger();
    QTRY_COMPARE_WITH_TIMEOUT(m_window->desk()->bench()->facts().reading->sheet, std::string("strict"),
                              20000);
    m_window->desk()->job()->undoStack()->undo();
    m_window->desk()->job()->undoStack()->undo();
    QCOMPARE(sheetOf(m_window->desk()->job()->state()).name, std::string("ordinary"));
}

/// Bursts, slow copies, half-written and corrupt files, duplicates: every good frame once.
void SetTest::twoHundredFilesAreTakenOnce()
{
    QVERIFY(bool(m_window->desk()->job()->create(m_folder.filePath("many"), "Many")));
    m_window->desk()->showDaySheet();
    const QDir inbox(m_folder.filePath("many-inbox"));
    QVERIFY(QDir().mkpath(inbox.path()));
    m_window->desk()->watch()->start(inbox.path());
    QSignalSpy problems(m_window->desk()->intake(), &Intake::problem);
    sim::Scene scene;
    scene.background = sim::addMaterial(scene, sim::flatReflectance(0.4), 0.3, 3);
    const auto bytesFor = [&](int i) {
        sim::Shot shot;
        shot.width = 240;
        shot.height = 160;
        shot.seed = uint64_t(i) + 1;
        const auto f = sim::expose(scene, sim::camera("Tarn 2"), sim::lamp("daylight"), shot);
        const auto bytes = dngFileOf(testing::dngOf(f));
        return QByteArray(reinterpret_cast<const char *>(bytes.data()), qsizetype(bytes.size()));
    };
    const auto write = [&](const QString &name, const QByteArray &bytes,
                           QIODevice::OpenMode mode = QIODevice::WriteOnly) {
        QFile file(inbox.filePath(name));
        return file.open(mode) && file.write(bytes) == bytes.size();
    };
    int good = 0;
    QMap<QString, QByteArray> halves;
    for (int i = 0; i < 200; ++i) {
        const auto bytes = bytesFor(i);
        const auto name = QString("f%1.dng").arg(i, 3, 10, QChar('0'));
        if (i % 20 == 7) { // corrupt for good
            QVERIFY(write(name, QByteArray(int(bytes.size()), 'x')));
        } else if (i % 20 == 13) { // half of it now, the rest much later
            QVERIFY(write(name, bytes.left(bytes.size() / 2)));
            halves[name] = bytes.mid(bytes.size() / 2);
            ++good;
        } else if (i % 20 == 17) { // under a temporary name first
            QVERIFY(write(name + ".part", bytes) &&
                    QFile::rename(inbox.filePath(name + ".part"), inbox.filePath(name)));
            ++good;
        } else {
            QVERIFY(write(name, bytes));
            ++good;
            if (i % 50 == 3)
                QVERIFY(write("copy-of-" + name, bytes)); // the same frame twice
        }
        if (i % 40 == 39)
            QTest::qWait(700); // bursts of forty
    }
    for (auto half = halves.begin(); half != halves.end(); ++half)
        QVERIFY(write(half.key(), half.value(), QIODevice::Append));
    const auto &frames = m_window->desk()->job()->state().frames;
    QTRY_COMPARE_WITH_TIMEOUT(int(frames.size()), good, 300000);
    QTest::qWait(1500);
    QCOMPARE(int(frames.size()), good);
    std::set<std::string> hashes, paths;
    for (const auto &frame : frames) {
        hashes.insert(frame.sha256);
        paths.insert(frame.path);
    }
    QCOMPARE(int(hashes.size()), good);
    QCOMPARE(int(paths.size()), good);
    QVERIFY(problems.count() >= 10); // the corrupt ones were told
    m_window->desk()->watch()->stop();
}

void SetTest::aFrameIsReadAsTheChartThatIsChosen()
{
    openBench(1);
    const auto truth = m_window->desk()->bench()->facts().reading->corners;
    QTest::keyClick(m_window.get(), Qt::Key_K, Qt::ControlModifier);
    auto *dialog = m_window->findChild<ChartChoice *>();
    QVERIFY(dialog);
    auto *list = dialog->findChild<QListWidget *>("charts");
    list->setCurrentRow(list->count() - 1); // a plain grid
    dialog->findChild<QSpinBox *>("rows")->setValue(4);
    dialog->findChild<QSpinBox *>("columns")->setValue(6);
    QTest::mouseClick(dialog->findChild<QPushButton *>("find"), Qt::LeftButton);
    QTRY_COMPARE_WITH_TIMEOUT(m_window->desk()->bench()->facts().reading->chart, std::string("grid-4x6"),
                              20000);
    const auto &grid = *m_window->desk()->bench()->facts().reading;
    QVERIFY(grid.found);
    QVERIFY(std::hypot(grid.corners[0].x - truth[0].x, grid.corners[0].y - truth[0].y) <
            4);                                           // of the two turns the upright one
    QVERIFY(!m_window->desk()->bench()->facts().proof()); // nobody knows its colours yet
    m_window->action("chooseChart")->trigger();
    QVERIFY(!m_window->findChildren<ChartChoice *>().isEmpty());
    dialog = m_window->findChildren<ChartChoice *>().back();
    list = dialog->findChild<QListWidget *>("charts");
    list->setCurrentRow(0);
    QTest::mouseClick(dialog->findChild<QPushButton *>("place"), Qt::LeftButton);
    QTRY_COMPARE_WITH_TIMEOUT(m_window->desk()->bench()->facts().reading->placedBy, PlacedBy::Hand, 20000);
    QCOMPARE(m_window->desk()->bench()->facts().reading->chart, std::string("classic-24"));
}

void SetTest::setupsKeepWhatTheLightsWere()
{
    m_window->desk()->daySheet()->canvas()->select(frameNamed("0419"));
    m_window->action("renameSetup")->trigger();
    auto *dialog = m_window->findChild<SetupDialog *>();
    QVERIFY(dialog);
    QCOMPARE(dialog->findChild<QLineEdit *>("lamps")->text(),
             QString("LED panel")); // the chosen frame's setup
    dialog->findChild<QLineEdit *>("power")->setText("60 %");
    dialog->findChild<QLineEdit *>("backdrop")->setText("slate");
    dialog->accept();
    const auto &setup = m_window->desk()->job()->state().setups[1];
    QCOMPARE(setup.power, std::string("60 %"));
    QCOMPARE(setup.backdrop, std::string("slate"));
    m_window->action("undo")->trigger();
    QCOMPARE(m_window->desk()->job()->state().setups[1].power, std::string("80 %"));
}

void SetTest::aFlatTellsHowEvenItIs()
{
    openBench(1, "0423");
    QTRY_VERIFY_WITH_TIMEOUT(view()->frame() && view()->frame()->id == frameNamed("0423"), 20000);
    QVERIFY(view()->frame()->flat);
    const auto said = words::flat(*view()->frame()->flat);
    QVERIFY2(said.find("Falls off by") == 0, said.c_str());
    // one that cannot serve is told, and the light is not evened by it
    sim::StudioSettings how;
    how.subject = sim::Subject::Board;
    how.shrink = 5;
    how.powerStops = -5;
    how.modifier = "scrim";
    how.lens = 1;
    const auto file = m_folder.filePath("other-flat.dng");
    QVERIFY(bool(shootToFile(how, file.toStdString())));
    QSignalSpy done(m_window->desk()->intake(), &Intake::finished);
    m_window->desk()->bringIn({file});
    QTRY_COMPARE_WITH_TIMEOUT(done.count(), 1, 30000);
    m_window->desk()->daySheet()->canvas()->select(frameNamed("other-flat"));
    if (m_window->action("part-flat")->isEnabled()) // where it was taken for something else
        m_window->action("part-flat")->trigger();
    openBench(1, "other-flat");
    const auto other = frameNamed("other-flat");
    QTRY_VERIFY_WITH_TIMEOUT(view()->frame() && view()->frame()->flat && view()->frame()->id == other, 20000);
    QVERIFY(!view()->frame()->flat->serves);
    const auto verdict = words::flat(*view()->frame()->flat);
    QVERIFY2(verdict.find("too dark for a flat frame") != std::string::npos, verdict.c_str());
}

void SetTest::theWheelSizesAllWindows()
{
    openBench(1);
    const QPoint at(view()->width() / 2, view()->height() / 2);
    const double share = m_window->desk()->bench()->facts().reading->windowShare, zoom = view()->zoom();
    QWheelEvent larger(at, view()->mapToGlobal(at), {}, {0, 120}, Qt::NoButton, Qt::ControlModifier,
                       Qt::NoScrollPhase, false);
    QApplication::sendEvent(view(), &larger);
    QVERIFY(std::abs(m_window->desk()->bench()->facts().reading->windowShare - share - 0.05) < 1e-9);
    QCOMPARE(view()->zoom(), zoom);
    QWheelEvent closer(at, view()->mapToGlobal(at), {}, {0, 120}, Qt::NoButton, Qt::NoModifier,
                       Qt::NoScrollPhase, false);
    QApplication::sendEvent(view(), &closer);
    QVERIFY(view()->zoom() > zoom);
}

void SetTest::aLimitIsEditedInTheSheet()
{
    ToleranceDialog dialog(*shippedSheet("strict"), 600);
    QCOMPARE(dialog.sheet(), *shippedSheet("strict")); // untouched it is the shipped one
    auto *table = dialog.findChild<QTableWidget *>("limits");
    QCOMPARE(dialog.findChildren<QDoubleSpinBox *>().size(), // each once, and the scale
             qsizetype(limitsOf(*shippedSheet("strict")).size() + 1));
    for (int row = 0; row < table->rowCount(); ++row)
        if (table->item(row, 0)->toolTip() == "glare") {
            auto *box = static_cast<QDoubleSpinBox *>(table->cellWidget(row, 1));
            QVERIFY(box->text().endsWith("%"));
            box->setValue(5);
        }
    auto own = *shippedSheet("ordinary"); // with more digits than are shown
    own.name = "own";
    own.capture.flare = 0.0123456;
    QCOMPARE(ToleranceDialog(own, 0).sheet(), own);
    const auto edited = dialog.sheet();
    QCOMPARE(edited.capture.glare, 0.05);
    QCOMPARE(edited.name, std::string("strict-edited"));
    QCOMPARE(dialog.intendedPpi(), 600.0);
    QCOMPARE(*toleranceFrom(documentOf(edited), "edited"), edited);
}

static const testing::Registered<SetTest> registeredSetTest("set_test");
#include "set_test.moc"
