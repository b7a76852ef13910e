#include "app/model/spoken.h"
#include "app/view/agreement/agreement_place.h"
#include "app/view/agreement/compare_dialog.h"
#include "app/view/agreement/drift_dialog.h"
#include "app/view/agreement/two_frames_dialog.h"
#include "app/view/day/strike_view.h"
#include "app/view/handover/report_dialog.h"
#include "app/view/widgets/task_strip.h"
#include "core/facts/strike.h"
#include "core/tasks/export_task.h"
#include "core/words/agreement_words.h"
#include "core/words/comparison_words.h"
#include "core/words/drift_words.h"
#include "core/words/strike_words.h"
#include "support/registry.h"
#include "support/window_fixture.h"

#include <QAction>
#include <QClipboard>
#include <QComboBox>
#include <QFile>
#include <QListWidget>
#include <QPushButton>
#include <QSpinBox>

using namespace wavechroma;
using namespace wavechroma::app;

/// Agreement between stations, the card before the set is struck, and the report, in the real window.
class EvidenceWindowTest : public WindowFixture
{
    Q_OBJECT
private slots:
    void initTestCase() { makeDay(); }
    void init() { openWindow(); }
    void cleanup() { closeWindow(); }
    void stationsAreHeldSideBySide();
    void whatIsDrawnTogetherServesAndIsTakenBack();
    void theCardSaysWhatIsMissing();
    void theCardIsOfferedBeforeTheLightsGo();
    void theReportIsWrittenAsTheCommandWritesIt();
    void aCheckFrameIsHeldAgainstTheCalibration();
    void calibrationsAreComparedOnAChart();
    void twoFramesStandSideBySide();

private:
    AgreementPlace *place() const { return m_window->desk()->agreementPlace(); }
    const StrikeItem *item(StrikeItem::Id id) const
    {
        for (const auto &one : m_window->desk()->strikeView()->card().items)
            if (one.id == id)
                return &one;
        return nullptr;
    }
};

void EvidenceWindowTest::stationsAreHeldSideBySide()
{
    QTest::keyClick(m_window.get(), Qt::Key_F8);
    QTRY_VERIFY_WITH_TIMEOUT(place()->agreed().has_value(), 30000);
    const auto again = agreementOf({demo().toStdString()});
    QVERIFY(bool(again));
    QVERIFY(place()->agreed()->agreement == again->agreement);
    QCOMPARE(place()->answer(), text(words::agreement(again->agreement, spoken())));
    const auto &rows = *place()->rows()->model();
    QCOMPARE(rows.rowCount(), int(again->agreement.objects.size() + again->agreement.patches.size()));
    double before = 1e9; // objects come first, the furthest apart on top
    for (int i = 0; i < int(again->agreement.objects.size()); ++i) {
        const auto line = place()->table('\t').split('\n')[i + 1].split('\t');
        QCOMPARE(line[1], QString("object"));
        QVERIFY(line[3].toDouble() <= before);
        before = line[3].toDouble();
    }
    m_window->action("copyAgreement")->trigger();
    QCOMPARE(QGuiApplication::clipboard()->text(), place()->table('\t'));
}

void EvidenceWindowTest::whatIsDrawnTogetherServesAndIsTakenBack()
{
    QVERIFY(!m_window->action("drawTogether")->isEnabled());
    QTest::keyClick(m_window.get(), Qt::Key_F8);
    QTRY_VERIFY_WITH_TIMEOUT(place()->agreed().has_value(), 30000);
    QVERIFY(!m_window->action("useDrawn")->isEnabled());
    place()->findChild<QSpinBox *>()->setValue(30);
    m_window->action("drawTogether")->trigger();
    QTRY_VERIFY_WITH_TIMEOUT(place()->agreed()->agreement.drawn.has_value(), 60000);
    QVERIFY2(place()->canApply(), qPrintable(place()->drawnWords()));
    const auto before = m_window->desk()->job()->state();
    m_window->action("useDrawn")->trigger();
    const auto &state = m_window->desk()->job()->state();
    int served = 0;
    for (const auto &frame : state.frames)
        served += frame.calibration != 0 && before.frame(frame.id)->calibration == 0;
    QVERIFY(served >= 3);
    m_window->desk()->job()->undoStack()->undo();
    QVERIFY(m_window->desk()->job()->state() == before);
}

void EvidenceWindowTest::theCardSaysWhatIsMissing()
{
    m_window->desk()->daySheet()->canvas()->select(frameNamed("0414"));
    QTest::keyClick(m_window.get(), Qt::Key_F12);
    auto *card = m_window->desk()->strikeView();
    QVERIFY(card->isVisible());
    QVERIFY(card->accessibleDescription().contains(text(words::strikeAnswer(card->card(), spoken()))));
    const auto &state = m_window->desk()->job()->state();
    QVERIFY(item(StrikeItem::Id::Chart) && !item(StrikeItem::Id::Chart)->isMissing);
    QVERIFY(item(StrikeItem::Id::Files)->isAwaited);
    QTRY_VERIFY_WITH_TIMEOUT(!card->card().isAwaited(), 60'000);
    QVERIFY(!item(StrikeItem::Id::Files)->isMissing);
    QCOMPARE(item(StrikeItem::Id::Files)->count, item(StrikeItem::Id::Files)->of);
    // the next setup: its panel tired between two charts
    QTest::keyClick(card, Qt::Key_Right);
    QCOMPARE(card->card().setup, state.frame(frameNamed("0419"))->setup);
    QVERIFY(item(StrikeItem::Id::Light) && !item(StrikeItem::Id::Light)->isMissing);
    QVERIFY(item(StrikeItem::Id::Products)->isMissing);
    QTest::keyClick(card, Qt::Key_Space);
    QVERIFY(!card->isVisible());

    // without the chart after it, the light that moved has to be asked for again
    auto last = *state.frame(frameNamed("0422"));
    JobChange change;
    change.frames.push_back({last, last});
    change.frames.back().after->setAside = true;
    auto target = JobTarget{nextId(state), {"undyed", {90, 0, 4}, {}}};
    change.targets.push_back({std::nullopt, target});
    m_window->desk()->job()->push("Set aside", change);
    m_window->desk()->showStrike(last.setup);
    QVERIFY(item(StrikeItem::Id::Light) && item(StrikeItem::Id::Light)->isMissing);
    QVERIFY(item(StrikeItem::Id::Targets)->isMissing);
    QCOMPARE(item(StrikeItem::Id::Targets)->names, std::vector<std::string>{"undyed"});
    // a file that is gone, and one that is cut short
    const auto file = m_window->desk()->job()->job().fileOf(last);
    for (const bool isCut : {false, true}) {
        std::filesystem::rename(file, file.string() + ".away");
        if (isCut) {
            std::filesystem::copy_file(file.string() + ".away", file);
            std::filesystem::resize_file(file, std::filesystem::file_size(file) - 1000);
        }
        m_window->desk()->showStrike(last.setup);
        QTRY_VERIFY_WITH_TIMEOUT(item(StrikeItem::Id::Files)->isMissing, 60'000);
        QCOMPARE(item(StrikeItem::Id::Files)->names, std::vector<std::string>{last.path});
        std::filesystem::rename(file.string() + ".away", file);
    }
    QTest::mouseClick(card, Qt::LeftButton);
    QVERIFY(!card->isVisible());
}

/// Only where frames came in: an old job that is looked at closes without a word.
void EvidenceWindowTest::theCardIsOfferedBeforeTheLightsGo()
{
    QVERIFY(!m_window->desk()->holdsBack());
    emit m_window->desk()->intake()->finished(); // as when frames were read
    auto *card = m_window->desk()->strikeView();
    const auto newest = newestSetup(m_window->desk()->job()->job());
    QVERIFY(strikeCard(m_window->desk()->job()->job(), newest).missing() > 0);
    QVERIFY(!m_window->close());
    QVERIFY(card->isVisible());
    QCOMPARE(card->card().setup, newest);
    QTest::keyClick(card, Qt::Key_Escape);
    QVERIFY(m_window->close()); // it was said once
}

void EvidenceWindowTest::theReportIsWrittenAsTheCommandWritesIt()
{
    m_window->action("report")->trigger();
    auto *dialog = m_window->findChild<ReportDialog *>();
    QVERIFY(dialog);
    auto *stations = dialog->findChild<QListWidget *>();
    QVERIFY(stations->count() >= 4);
    for (int i = 1; i < stations->count(); ++i)
        stations->item(i)->setCheckState(Qt::Unchecked);
    const auto files = dialog->files();
    QCOMPARE(files.size(), 2);
    stations->item(0)->setCheckState(Qt::Unchecked);
    const auto buttons = dialog->findChildren<QPushButton *>();
    const auto write = std::find_if(buttons.begin(), buttons.end(),
                                    [](const auto *b) { return b->text() == "Write Report"; });
    QVERIFY(!(*write)->isEnabled());
    stations->item(0)->setCheckState(Qt::Checked);
    const auto request = dialog->request();
    dialog->accept();
    QTRY_VERIFY_WITH_TIMEOUT(QFile::exists(files.last()), 30000);
    QTRY_VERIFY(m_window->desk()->strip()->message().contains("evidence.pdf"));
    QFile pdf(files.first());
    QVERIFY(pdf.open(QIODevice::ReadOnly) && pdf.read(5) == "%PDF-");
    const auto differences = verified(files.last().toStdString(), demo().toStdString());
    QVERIFY2(differences && differences->empty(), differences ? "" : differences.error().message.c_str());
    const auto names = recordStations(*readText(files.last().toStdString()), "record");
    QCOMPARE(*names, request.record.stations);
}

/// The panel's second chart as a check of the first: fails, with the lamp's power as the first cause.
void EvidenceWindowTest::aCheckFrameIsHeldAgainstTheCalibration()
{
    const auto frame = frameNamed("0422");
    auto *canvas = m_window->desk()->daySheet()->canvas();
    canvas->select(frame);
    m_window->action("part-check")->trigger();
    const auto &job = m_window->desk()->job()->job();
    const auto check = driftOfCheck(job, frame);
    QVERIFY(check && !check->passes);
    QCOMPARE(check->causes.front().cause, DriftCause::Power);
    QVERIFY(canvas->noteOf(frame).contains(text(words::drift(*check, spoken()))));
    // and the station's history says the same, and that a chart is due
    const auto drift = driftOfStation(job, *job.stations().of(frame));
    QVERIFY(bool(drift));
    QCOMPARE(drift->looks.size(), size_t(1));
    QVERIFY(drift->looks[0].check == *check);
    QVERIFY(drift->due.isFailed);
    m_window->action("drift")->trigger();
    auto *dialog = m_window->findChild<DriftDialog *>();
    QVERIFY(dialog && dialog->words().contains(text(words::drift(*check, spoken()))));
    QVERIFY(dialog->words().contains("due now"));
    dialog->reject();
    m_window->desk()->job()->undoStack()->undo();
    const auto charts = driftOfStation(job, *job.stations().of(frame));
    QVERIFY(!charts->due.isFailed); // a chart that was shot again is in force
    QCOMPARE(charts->due.on, std::string("2026-11-13"));
}

void EvidenceWindowTest::calibrationsAreComparedOnAChart()
{
    const auto frame = frameNamed("0414");
    m_window->desk()->daySheet()->canvas()->select(frame);
    m_window->action("compare")->trigger();
    auto *dialog = m_window->findChild<CompareDialog *>();
    QVERIFY(dialog);
    QTRY_VERIFY_WITH_TIMEOUT(dialog->comparison().has_value(), 20000);
    const auto &job = m_window->desk()->job()->job();
    const auto all = comparablesOf(job, frame);
    QVERIFY(all.size() > 4 && !all[1].calibration);
    // plain against the calibration in use: the figures of the same call
    const auto again = compareOn(job, frame, *sideOn(job, frame, all[1]), *sideOn(job, frame, all[0]),
                                 DifferenceMeasure::De2000);
    QVERIFY(again && *again == *dialog->comparison());
    QCOMPARE(dialog->answer(), text(words::comparison(*again, spoken())));
    QCOMPARE(dialog->table(',').count('\n'), 25);
    // patches that are selected are a group; the limits are those of the job's sheet
    QVERIFY(dialog->more().contains("Held to"));
    dialog->patches()->selectRow(0);
    const auto id = dialog->patches()->item(0, 0)->text();
    QTRY_VERIFY_WITH_TIMEOUT(dialog->comparison()->group.has_value(), 20000);
    QCOMPARE(dialog->comparison()->group->patches, std::vector<std::string>{id.toStdString()});
    QVERIFY(dialog->aboutGroup().startsWith("On " + id));
    QVERIFY(dialog->comparison()->group->errors->better ==
            ErrorsCompared::Better::Neither); // one says nothing
    QVERIFY(dialog->patches()->item(0, 0)->isSelected());
    // another side brings the rows into another order: the group stays what it was
    dialog->sideA()->setCurrentIndex(2);
    QTRY_VERIFY_WITH_TIMEOUT(dialog->comparison()->a.name != again->a.name, 20000);
    QCOMPARE(dialog->comparison()->group->patches, std::vector<std::string>{id.toStdString()});
    for (int row = 0; row < dialog->patches()->rowCount(); ++row)
        QCOMPARE(dialog->patches()->item(row, 0)->isSelected(),
                 dialog->patches()->item(row, 0)->text() == id);
    dialog->sideA()->setCurrentIndex(1);
    QTRY_VERIFY_WITH_TIMEOUT(dialog->comparison()->a.name == again->a.name, 20000);
    dialog->patches()->clearSelection();
    QTRY_VERIFY_WITH_TIMEOUT(!dialog->comparison()->group, 20000);
    // by another measure
    dialog->measure()->setCurrentIndex(int(DifferenceMeasure::De76));
    QTRY_VERIFY_WITH_TIMEOUT(dialog->comparison()->measure == DifferenceMeasure::De76, 20000);
    dialog->measure()->setCurrentIndex(0);
    // its own profile, from a file
    const auto profile = m_folder.filePath("own.icc");
    ExportRequest request;
    request.icc = profile.toStdString();
    QVERIFY(bool(exportCalibration(*all[0].calibration, request)));
    dialog->sideA()->setCurrentIndex(0);
    dialog->addFile(profile);
    QTRY_VERIFY_WITH_TIMEOUT(dialog->comparison() && dialog->comparison()->b.kind == "icc", 20000);
    QVERIFY(dialog->comparison()->latticeMean < 0.3);
    dialog->reject();
}

/// One yarn under two lights, and one chart by its calibration and by the file's own matrix.
void EvidenceWindowTest::twoFramesStandSideBySide()
{
    auto *canvas = m_window->desk()->daySheet()->canvas();
    canvas->select(frameNamed("0416"));
    m_window->action("sideBySide")->trigger();
    m_window->findChild<TwoFramesDialog *>()->reject();
    QTest::qWait(50);
    canvas->select(frameNamed("0420"));
    m_window->action("sideBySide")->trigger();
    auto *dialog = m_window->findChild<TwoFramesDialog *>();
    QTRY_VERIFY_WITH_TIMEOUT(!dialog->side(0).picture.isNull() && !dialog->side(1).picture.isNull(), 20000);
    const auto &job = m_window->desk()->job()->job();
    const auto served =
        pictureBy(job, *job.rows().frame(frameNamed("0416")), ShownWay::Served, {}, 2000, nullptr);
    QVERIFY(bool(served));
    const auto &left = dialog->side(0).picture;
    QCOMPARE(left.size(), QSize(served->width, served->height));
    const int x = served->width / 3, y = served->height / 2;
    QCOMPARE(left.pixel(x, y), served->rgb[size_t(y * served->width + x)]);
    QVERIFY(left.pixel(x, y) != dialog->side(1).picture.pixel(x, y));
    // the same frame on both sides is the same picture, until one is coloured another way
    dialog->side(1).frames->setCurrentIndex(dialog->side(0).frames->currentIndex());
    QTRY_VERIFY_WITH_TIMEOUT(dialog->side(1).picture == left, 20000);
    dialog->side(1).versions->setCurrentIndex(1);
    emit dialog->side(1).versions->activated(1);
    QTRY_VERIFY_WITH_TIMEOUT(dialog->side(1).picture != left, 20000);
    auto *pictures = dialog->pictures();
    const auto shown = pictures->grab().toImage();
    QTest::keyPress(pictures, Qt::Key_B);
    QVERIFY(pictures->isFlicked() && pictures->grab().toImage() != shown);
    QTest::keyRelease(pictures, Qt::Key_B);
    QVERIFY(pictures->grab().toImage() == shown);
    pictures->setSplit(true);
    QVERIFY(pictures->grab().toImage() != shown);
    dialog->reject();
}

static const testing::Registered<EvidenceWindowTest> registeredEvidenceWindowTest("evidence_window_test");
#include "evidence_window_test.moc"
