#include "app/model/intake.h"
#include "app/model/screen_profile.h"
#include "app/model/spoken.h"
#include "app/view/bench/bench.h"
#include "app/view/bench/fit/fit_stop.h"
#include "app/view/bench/proof/error_list.h"
#include "app/view/bench/proof/proof_stop.h"
#include "app/view/bench/read/read_stop.h"
#include "app/view/day/call_out.h"
#include "app/view/day/day_sheet.h"
#include "app/view/day/setup_dialog.h"
#include "app/view/handover/handover.h"
#include "app/view/widgets/painted_list.h"
#include "app/view/widgets/patch_colors.h"
#include "app/view/widgets/task_strip.h"
#include "app/view/window/action_finder.h"
#include "app/view/window/frame_actions.h"
#include "app/view/window/main_window.h"
#include "core/formats/camera_profile.h"
#include "core/formats/dng_frame.h"
#include "core/formats/picture_file.h"
#include "core/raw/open_frame.h"
#include "core/render/true_pixels.h"
#include "core/sim/expose.h"
#include "core/words/answer_words.h"
#include "core/words/frame_words.h"
#include "support/registry.h"
#include "support/sim_dng.h"
#include "support/window_fixture.h"

#include <QAccessible>
#include <QAction>
#include <QApplication>
#include <QDir>
#include <QFile>
#include <QInputDialog>
#include <QLineEdit>
#include <QMessageBox>
#include <QMimeData>
#include <QPushButton>
#include <QSettings>
#include <QSignalSpy>
#include <QTemporaryDir>
#include <QTest>
#include <cmath>

using namespace wavechroma;
using namespace wavechroma::app;

/// The real window, driven by mouse and keys, without a screen.
class WindowTest : public WindowFixture
{
    Q_OBJECT
private slots:
    void hundredPercentShowsEveryPixel();
    void theMonitorsProfileIsUsedAndSaid();
    void initTestCase() { makeDay(); }
    void init() { openWindow(); }
    void cleanup() { closeWindow(); }
    void theDaySheetShowsTheMorning();
    void theDaySheetIsReadAloud();
    void aChosenFrameKeepsItsPicture();
    void placesAndStopsByKeyboard();
    void aDraggedCornerMovesTheNumbersAndComesBack();
    void arrowKeysAreOneStepOfUndo();
    void theWholeChartMovesByItsCross();
    void partsAreChosenByClickAndKey();
    void errorsAreAListThatCanBeReadAloud();
    void checksAreAListTroubleFirst();
    void profilesAreASmallDelivery();
    void everythingIsThereAfterReopening();
    void droppedFramesAreAnsweredByThemselves();
    void theCallOutSaysWhatToDo();
    void aChangedLightAsksForAChart();
    void aFlatEvensTheReadingsAfterIt();
    void withoutAJobThereAreWaysToBegin();
    void aWatchedFolderBringsFramesInWhenTheyAreWhole();
    void brokenAndKnownFilesAreTold();
    void aJobOpenElsewhereIsOnlyLookedAt();
    void findingAgainUndoesTheHand();
    void aFrameWithoutAChartCanBePlacedByHand();
    void setupsAreNamedAndFramesSetAside();
    void surroundsAreNeutral();
    void keysAreFewAndDiffer();
    void everyActionHasAReason();
    void anActionIsFoundByItsName();
    void aFrameWhoseFileIsGoneTakesKeysAndIsFoundAgain();
    void whatArrivesWaitsForTheQuestion();
    void aDoubtIsAskedAbout();
};

void WindowTest::theDaySheetShowsTheMorning()
{
    auto *canvas = m_window->desk()->daySheet()->canvas();
    QVERIFY(canvas->isVisible());
    for (const char *name : {"0412", "0413", "0414", "0415", "0416"})
        QVERIFY(!canvas->frameRect(frameNamed(name)).isEmpty());
    QVERIFY(canvas->frameRect(frameNamed("0412")).left() <
            canvas->frameRect(frameNamed("0414")).left()); // time order
    const auto &stations = m_window->desk()->job()->stations();
    const auto &lanes = stations.all();
    QCOMPARE(lanes.size(), size_t(4)); // two bodies under the first light, one under each of the others
    QCOMPARE(lanes[0]->brackets.size(), size_t(1));
    const auto &bracket = lanes[0]->brackets[0];
    QCOMPARE(bracket.frames.size(), size_t(3));
    QCOMPARE(bracket.chosen, frameNamed("0414")); // neither the dark one nor the clipped one
    const auto why = words::bracket(bracket.choice);
    QVERIFY2(why.find("the brighter one is clipped") != std::string::npos, why.c_str());
    QCOMPARE(words::headline(lanes[2]->answer), std::string("The light moved")); // the tired panel
    const auto moved = words::reason(lanes[2]->answer);
    QVERIFY2(moved.find("warmer since 10:52") != std::string::npos, moved.c_str());
    const auto doubts = [&](const char *frame) {
        return words::serving(stations.servingOf(m_window->desk()->job()->state(), frameNamed(frame)));
    };
    QVERIFY(doubts("0421").find("warmer") != std::string::npos);
    QVERIFY(doubts("0416").empty());
    const auto answer = lanes.front()->answer;
    QCOMPARE(answer.state, Answer::State::Good);
    QCOMPARE(answer.frame, frameNamed("0414")); // the clipped one does not answer
    // a click on the answer opens the bench at the frame it comes from
    QTest::mouseClick(canvas, Qt::LeftButton, {}, canvas->answerRect(0).center());
    QVERIFY(m_window->desk()->bench()->isVisible());
    QCOMPARE(m_window->desk()->job()->currentFrame(), frameNamed("0414"));
}

/// What is painted is there for a reader of screens too: every frame by name, with its answer, and it opens.
void WindowTest::theDaySheetIsReadAloud()
{
    auto *canvas = m_window->desk()->daySheet()->canvas();
    auto *sheet = QAccessible::queryAccessibleInterface(canvas);
    QVERIFY(sheet);
    QCOMPARE(sheet->role(), QAccessible::List);
    const auto itemOf = [&](const QString &file) -> QAccessibleInterface * {
        for (int i = 0; i < sheet->childCount(); ++i)
            if (sheet->child(i)->text(QAccessible::Name).contains(file))
                return sheet->child(i);
        return nullptr;
    };
    for (const auto &frame : m_window->desk()->job()->state().frames) {
        const auto file = QString::fromStdString(std::filesystem::path(frame.path).filename().string());
        auto *item = itemOf(file);
        QVERIFY2(item && item->isValid(), qPrintable(file));
        QCOMPARE(item->role(), QAccessible::ListItem);
        QCOMPARE(item->rect().size(), canvas->frameRect(frame.id).size());
        QCOMPARE(sheet->childAt(item->rect().center().x(), item->rect().center().y()), item);
        QCOMPARE(sheet->child(sheet->indexOfChild(item)), item);
    }
    int headings = 0, answers = 0;
    for (int i = 0; i < sheet->childCount(); ++i) {
        headings += sheet->child(i)->role() == QAccessible::Heading;
        answers += sheet->child(i)->text(QAccessible::Name).contains("The light moved");
    }
    QCOMPARE(headings, int(m_window->desk()->job()->state().setups.size()));
    QVERIFY(answers >= 1);

    auto *item = itemOf("0414");
    auto *actions = item->actionInterface();
    QVERIFY(actions && actions->actionNames().contains(QAccessibleActionInterface::pressAction()));
    canvas->setFocus();
    QVERIFY(!item->state().selected);
    actions->doAction(QAccessibleActionInterface::setFocusAction());
    QCOMPARE(canvas->selected(), frameNamed("0414"));
    item = itemOf("0414");
    QVERIFY(item->state().selected);
    QCOMPARE(sheet->focusChild(), item);
    item->actionInterface()->doAction(QAccessibleActionInterface::pressAction());
    QVERIFY(m_window->desk()->bench()->isVisible());
    QCOMPARE(m_window->desk()->job()->currentFrame(), frameNamed("0414"));
}

/// In every lane: the frame round it is a line, not a sheet over it.
void WindowTest::aChosenFrameKeepsItsPicture()
{
    auto *canvas = m_window->desk()->daySheet()->canvas();
    for (const char *name : {"0414", "MB_0051", "0419", "0424"}) {
        canvas->select(frameNamed(name));
        const auto seen = canvas->grab(canvas->frameRect(frameNamed(name))).toImage();
        QSet<QRgb> colours;
        for (int y = 4; y < seen.height() - 4; y += 3)
            for (int x = 4; x < seen.width() - 4; x += 3)
                colours << seen.pixel(x, y);
        QVERIFY2(colours.size() > 15, name); // the patches of its chart
    }
}

void WindowTest::placesAndStopsByKeyboard()
{
    auto *canvas = m_window->desk()->daySheet()->canvas();
    canvas->setFocus();
    for (int i = 0; i < 3; ++i)
        QTest::keyClick(canvas, Qt::Key_Right);
    QCOMPARE(canvas->selected(), frameNamed("0414"));
    QTest::keyClick(canvas, Qt::Key_Return);
    QVERIFY(m_window->desk()->bench()->isVisible());
    for (int stop = 1; stop <= 4; ++stop) {
        QTest::keyClick(m_window.get(), Qt::Key(Qt::Key_0 + stop));
        QCOMPARE(m_window->desk()->bench()->openedStop(), stop);
    }
    QTest::keyClick(m_window.get(), Qt::Key_Escape);
    QVERIFY(canvas->isVisible());
    QTest::keyClick(m_window.get(), Qt::Key_F3);
    QVERIFY(m_window->desk()->bench()->isVisible());
    QTest::keyClick(m_window.get(), Qt::Key_F2);
    QVERIFY(canvas->isVisible());
}

void WindowTest::aDraggedCornerMovesTheNumbersAndComesBack()
{
    openBench(1);
    const auto state = m_window->desk()->job()->state();
    const auto before = m_window->desk()->bench()->facts();
    const QPointF corner = view()->viewFromFrame(before.reading->corners[1]);
    QTest::mousePress(view(), Qt::LeftButton, {}, corner.toPoint());
    QTest::mouseMove(view(), (corner + QPointF(-60, 30)).toPoint());
    QVERIFY(m_window->desk()->bench()->facts().reading->corners[1].x <
            before.reading->corners[1].x);             // follows at once
    QCOMPARE(m_window->desk()->job()->state(), state); // but is not stored yet
    QTest::mouseRelease(view(), Qt::LeftButton, {}, (corner + QPointF(-60, 30)).toPoint());
    QTRY_COMPARE(m_window->desk()->job()->undoStack()->count(), 1);
    const auto *moved = m_window->desk()->job()->state().readingOf(frameNamed("0414"));
    QCOMPARE(moved->reading->placedBy, PlacedBy::Hand);
    const double shift = (before.reading->corners[1].x - moved->reading->corners[1].x) * view()->zoom();
    QVERIFY2(std::abs(shift - 60) < 2, qPrintable(QString::number(shift)));
    QVERIFY(mean() > before.proof()->summary.mean + 0.1);
    QTest::keyClick(m_window.get(), Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(m_window->desk()->job()->state(), state);
    QCOMPARE(mean(), before.proof()->summary.mean);
    QTest::keyClick(m_window.get(), Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    QVERIFY(mean() > before.proof()->summary.mean + 0.1);
}

void WindowTest::arrowKeysAreOneStepOfUndo()
{
    openBench(1);
    const auto before = m_window->desk()->bench()->facts().reading->corners;
    view()->setFocus();
    QTest::keyClick(view(), Qt::Key_Tab);
    QTest::keyPress(view(), Qt::Key_Right, Qt::ShiftModifier);
    QTest::keyPress(view(), Qt::Key_Right, Qt::ShiftModifier);
    QTest::keyRelease(view(), Qt::Key_Right, Qt::ShiftModifier);
    QCOMPARE(m_window->desk()->bench()->facts().reading->corners[0].x, before[0].x + 20);
    QCOMPARE(m_window->desk()->bench()->facts().reading->corners[1], before[1]);
    QTRY_COMPARE(m_window->desk()->job()->undoStack()->count(), 1);
    QTest::keyClick(view(), Qt::Key_BracketRight);
    QCOMPARE(m_window->desk()->bench()->facts().reading->windowShare, 0.55);
}

void WindowTest::theWholeChartMovesByItsCross()
{
    openBench(1);
    const auto before = m_window->desk()->bench()->facts().reading->corners;
    QPointF centre;
    for (const auto &c : before)
        centre += view()->viewFromFrame(c) / 4;
    drag(centre, {24, -12});
    const auto after = m_window->desk()->bench()->facts().reading->corners;
    for (size_t i = 0; i < 4; ++i) {
        QVERIFY(std::abs((after[i].x - before[i].x) * view()->zoom() - 24) < 2);
        QVERIFY(std::abs((after[i].y - before[i].y) * view()->zoom() + 12) < 2);
    }
    // a place that cannot be is refused with words and undone by itself
    drag(view()->viewFromFrame(after[0]),
         view()->viewFromFrame(after[2]) - view()->viewFromFrame(after[0]) + QPointF(40, 40));
    QVERIFY(m_window->desk()->strip()->message().contains("cannot be placed there"));
    QCOMPARE(m_window->desk()->bench()->facts().reading->corners, after);
}

void WindowTest::partsAreChosenByClickAndKey()
{
    openBench(3);
    auto *fit = m_window->desk()->bench()->fitStop();
    const auto parts = [&] { return m_window->desk()->job()->state().title.parts; };
    const Parts toEachReading{"auto", "auto"}, balance{"balance", "as-shot"};
    QVERIFY(parts() == toEachReading);
    const double byRecommended = mean();
    QTest::mouseClick(fit, Qt::LeftButton, {}, fit->cellRect(balance).center());
    QVERIFY(parts() == balance);
    QVERIFY(mean() > byRecommended);
    QTest::keyClick(fit, Qt::Key_Right);
    QVERIFY(parts() == plainParts());
    QTest::keyClick(fit, Qt::Key_Down);
    QVERIFY(parts() == (Parts{"matrix", "greys"}));
    QTest::mouseClick(fit, Qt::LeftButton, {}, fit->autoRect().center());
    QVERIFY(parts() == toEachReading);
    QCOMPARE(mean(), byRecommended);
}

void WindowTest::errorsAreAListThatCanBeReadAloud()
{
    openBench(4);
    auto *list = m_window->desk()->bench()->proofStop()->errors();
    const auto *model = list->model();
    QCOMPARE(model->rowCount(), 24);
    const auto &proof = *m_window->desk()->bench()->facts().proof();
    const auto first = model->index(0, 0).data(Qt::AccessibleTextRole).toString();
    QVERIFY2(first.startsWith(QString::fromStdString(proof.worst) + ": ΔE "), qPrintable(first));
    for (int row = 1; row < 24; ++row)
        QVERIFY(list->errors()->patch(row - 1).de00 >= list->errors()->patch(row).de00);
    list->setFocus();
    list->setCurrentIndex(model->index(0, 0));
    QTest::keyClick(list, Qt::Key_Right); // the arrows point as the mouse does
    QCOMPARE(list->highlighted(), QString::fromStdString(list->errors()->patch(1).id));
}

/// Each with its sentence for a screen reader; a click takes no keys from the frame.
void WindowTest::checksAreAListTroubleFirst()
{
    openBench(1, "0412");
    auto *list = m_window->findChild<PaintedList *>("checks");
    QVERIFY(list && list->isVisible());
    QCOMPARE(list->accessibleName(), QString("Checks"));
    const auto said = [&](int row) { return list->model()->index(row, 0).data().toString(); };
    QCOMPARE(said(0), QString("D1 is clipped. Close down 2/3 stop."));
    QCOMPARE(list->model()->rowCount(), 2); // the tag, and all that is well
    QVERIFY(said(1).contains("Evenly lit") && said(1).contains("No shadow's edge."));
    QVERIFY(list->cell(0).height() < list->cell(1).height()); // as tall as their words
    QVERIFY(list->cell(1).top() >= list->cell(0).bottom());
    QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, list->cell(1).center());
    QVERIFY(!list->hasFocus());
    openBench(1, "0416"); // without a chart there is nothing to check
    QTRY_VERIFY(!list->isVisible());
}

void WindowTest::profilesAreASmallDelivery()
{
    openBench(4);
    const auto shown = *m_window->desk()->bench()->facts().chosen();
    m_window->action("profiles")->trigger();
    auto *place = m_window->desk()->handoverPlace();
    QTRY_VERIFY(place->isVisible());
    auto *editor = place->editor();
    QTRY_COMPARE(editor->plan().items.size(), size_t(3));
    const auto title = editor->titles()[editor->current()];
    editor->setFolder(m_folder.filePath("out"));
    QSignalSpy finished(editor, &DeliveryEditor::finished);
    editor->write();
    QTRY_VERIFY_WITH_TIMEOUT(finished.count() == 1, 20000);
    const auto files = QDir(m_folder.filePath("out")).entryList({"*.dcp", "*.icc", "*.csv"});
    QCOMPARE(files.size(), 3);
    const auto dcp = m_folder.filePath("out/" + files.filter(".dcp").first()).toStdString();
    const auto profile = *cameraProfileFrom(*readWhole(dcp), "out.dcp");
    for (int i = 0; i < 3; ++i)
        for (int j = 0; j < 3; ++j)
            QVERIFY(std::abs(profile.lights[0].forwardMatrix(i, j) - shown.matrix(i, j)) < 1e-6);
    QCOMPARE(profile.name, shown.name);
    const auto before = editor->titles().size();
    openBench(4);
    m_window->action("profiles")->trigger(); // the same chart's profiles are the same delivery
    QCOMPARE(editor->titles().size(), before);
    QCOMPARE(editor->titles()[editor->current()], title);
    openBench(4, "0413"); // another chart of the station goes along
    QVERIFY(!editor->leaves(frameNamed("0413")));
    m_window->action("profiles")->trigger();
    QVERIFY(editor->leaves(frameNamed("0413")));
}

void WindowTest::everythingIsThereAfterReopening()
{
    openBench(1);
    const auto before = m_window->desk()->bench()->facts().reading->corners[2];
    drag(view()->viewFromFrame(before), {-10, -10});
    m_window.reset(); // no save: it is saved, also what is still being worked out
    init();
    QVERIFY(m_window->desk()->job()->state().readingOf(frameNamed("0414"))->reading->corners[2].x < before.x);
    QCOMPARE(m_window->desk()->job()->state().readingOf(frameNamed("0414"))->reading->placedBy,
             PlacedBy::Hand);
    // put the search's placement back for the tests that follow
    openBench(1);
    m_window->action("readAgain")->trigger();
    QTRY_COMPARE_WITH_TIMEOUT(m_window->desk()->bench()->facts().reading->placedBy, PlacedBy::Search, 20000);
    m_window->desk()->job()->undoStack()->clear();
}

void WindowTest::droppedFramesAreAnsweredByThemselves()
{
    QVERIFY(bool(m_window->desk()->job()->create(m_folder.filePath("fresh"), "Fresh")));
    m_window->desk()->showDaySheet();
    QMimeData data;
    data.setUrls({QUrl::fromLocalFile(demo() + "/frames/HR_0414.dng")});
    QDropEvent drop(QPointF(300, 300), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
    QSignalSpy done(m_window->desk()->intake(), &Intake::finished);
    QDragEnterEvent enter(QPoint(300, 300), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(m_window.get(), &enter);
    QVERIFY(enter.isAccepted());
    QApplication::sendEvent(m_window.get(), &drop);
    QVERIFY(m_window->desk()->strip()->isVisible() || m_window->desk()->intake()->isRunning());
    QTRY_COMPARE_WITH_TIMEOUT(done.count(), 1, 30000);
    // read, balanced, fitted, proven, and the proof is open
    QVERIFY(m_window->desk()->bench()->isVisible());
    QCOMPARE(m_window->desk()->bench()->openedStop(), 4);
    QVERIFY(m_window->desk()->bench()->facts().balance && m_window->desk()->bench()->facts().proof());
    // a spoilt one opens at the stop that needs attention
    m_window->desk()->bringIn({demo() + "/frames/HR_0412.dng"});
    QTRY_COMPARE_WITH_TIMEOUT(done.count(), 2, 30000);
    QCOMPARE(m_window->desk()->bench()->openedStop(), 1);
    QVERIFY(m_window->desk()->job()->state().frame(m_window->desk()->job()->currentFrame())->setAside);
    // one step each
    m_window->desk()->job()->undoStack()->undo();
    QCOMPARE(m_window->desk()->job()->state().frames.size(), size_t(1));
    m_window->desk()->job()->undoStack()->undo();
    QVERIFY(m_window->desk()->job()->state().frames.empty());
    QVERIFY(m_window->desk()->job()->state().readings.empty() &&
            m_window->desk()->job()->state().calibrations.empty());
}

void WindowTest::theCallOutSaysWhatToDo()
{
    QVERIFY(bool(m_window->desk()->job()->create(m_folder.filePath("call"), "Call")));
    m_window->desk()->showDaySheet();
    auto *card = m_window->desk()->callOut();
    m_window->desk()->bringIn({demo() + "/frames/HR_0412.dng"});
    QTRY_VERIFY_WITH_TIMEOUT(card->isVisible(), 30000);
    QVERIFY(!card->said().good);
    QCOMPARE(card->said().headline, std::string("Close down 2/3 stop."));
    QVERIFY(card->said().reason.find("D1 is clipped.") == 0);
    QCOMPARE(card->size(), card->parentWidget()->size());
    QTest::keyClick(card, Qt::Key_Space);
    QVERIFY(!card->isVisible() && m_window->desk()->daySheet()->isVisible());
    QVERIFY(m_window->desk()->job()->state().frames.front().setAside);
    // asked for again, and used all the same
    m_window->action("callOut")->trigger();
    QVERIFY(card->isVisible());
    QTest::keyClick(card, Qt::Key_Return);
    QVERIFY(!m_window->desk()->job()->state().frames.front().setAside);
    QVERIFY(m_window->desk()->bench()->isVisible());
    m_window->desk()->bringIn({demo() + "/frames/HR_0414.dng"});
    QTRY_VERIFY_WITH_TIMEOUT(card->isVisible(), 30000);
    QVERIFY2(card->said().good && card->said().headline.find("Good. ΔE ") == 0,
             card->said().headline.c_str());
    QVERIFY(card->said().reason.find("Evenly lit") != std::string::npos);
}

void WindowTest::aChangedLightAsksForAChart()
{
    m_window->action("changeLight")->trigger();
    auto *dialog = m_window->findChild<SetupDialog *>();
    QVERIFY(dialog);
    dialog->findChild<QLineEdit *>("title")->setText("Strip light right");
    dialog->accept();
    const auto &state = m_window->desk()->job()->state();
    QCOMPARE(state.setups.size(), size_t(4));
    QCOMPARE(state.setups.back().lamps, state.setups[2].lamps); // from the last one, to say what changed
    const auto &lanes = m_window->desk()->job()->stations().all();
    QVERIFY(lanes.back()->frames.empty());
    QCOMPARE(lanes.back()->answer.state, Answer::State::None);
    m_window->desk()->daySheet()->canvas()->select(frameNamed("0418"));
    m_window->action("moveToSetup")->trigger();
    auto *move = m_window->findChild<QInputDialog *>();
    QVERIFY(move);
    move->setTextValue("4 · Strip light right");
    move->accept();
    QCOMPARE(state.frame(frameNamed("0418"))->setup, state.setups.back().id);
    QCOMPARE(words::serving(m_window->desk()->job()->stations().servingOf(state, frameNamed("0418"))),
             std::string("No chart under this light yet."));
    m_window->action("removeSetup")->trigger(); // it is not empty now
    QCOMPARE(state.setups.size(), size_t(4));
    m_window->action("undo")->trigger();
    m_window->action("removeSetup")->trigger();
    QCOMPARE(state.setups.size(), size_t(3));
    m_window->desk()->daySheet()->canvas()->select(frameNamed("0416"));
    m_window->action("part-check")->trigger();
    QCOMPARE(state.frame(frameNamed("0416"))->part, FramePart::Check);
}

void WindowTest::aFlatEvensTheReadingsAfterIt()
{
    // an even board by the same camera and lens, a stop under
    const auto &camera = sim::camera("Tarn 2");
    sim::Scene scene;
    scene.background = sim::addMaterial(scene, sim::flatReflectance(0.85));
    sim::Shot shot;
    shot.width = camera.width / 5 / 2 * 2;
    shot.height = camera.height / 5 / 2 * 2;
    shot.exposure = 0.5;
    shot.capturedAt = "2026-10-14T09:10:00";
    const auto f = sim::expose(scene, camera, sim::lamp("strobe"), shot);
    const auto file = m_folder.filePath("flat.dng");
    QVERIFY(bool(writeWhole({{file.toStdString(), dngFileOf(testing::dngOf(f))}})));
    QVERIFY(bool(m_window->desk()->job()->create(m_folder.filePath("copy"), "Copy")));
    m_window->desk()->showDaySheet();
    m_window->desk()->bringIn({file, demo() + "/frames/HR_0414.dng"});
    // and the white of the flat, which would speak if there were no chart
    QTRY_COMPARE_WITH_TIMEOUT(m_window->desk()->job()->state().calibrations.size(),
                              crossings(false).size() + 1, 30000);
    const auto &state = m_window->desk()->job()->state();
    QCOMPARE(state.frame(frameNamed("flat"))->part, FramePart::Flat); // guessed
    QVERIFY(!m_window->desk()->job()->stations().readingToShow(state, frameNamed("flat")));
    const auto &reading = *state.readingOf(frameNamed("0414"))->reading;
    QVERIFY(reading.flats.size() == 1 && reading.flats.front().find("flat.dng") != std::string::npos);
    // the lens falls off by 12 % to the corners: an evened white reads higher than the plain one
    const auto plain = *readFrame(*openFrame((demo() + "/frames/HR_0414.dng").toStdString()));
    QVERIFY(reading.patch("D1")->mean.g > 1.005 * plain.patch("D1")->mean.g);
    // without the flat, reading again takes the plain values
    openBench(1);
    QTest::keyClick(m_window->desk()->callOut(), Qt::Key_Escape);
    m_window->desk()->showBench(frameNamed("0414"));
    QTRY_VERIFY_WITH_TIMEOUT(view()->frame() && view()->frame()->id == frameNamed("0414"), 20000);
    auto aside = *state.frame(frameNamed("flat"));
    aside.setAside = true;
    JobChange change;
    change.frames.push_back({*state.frame(frameNamed("flat")), aside});
    m_window->desk()->job()->push("Set aside", change);
    m_window->action("readAgain")->trigger();
    QTRY_VERIFY_WITH_TIMEOUT(state.readingOf(frameNamed("0414"))->reading->flats.empty(), 20000);
    QCOMPARE(state.readingOf(frameNamed("0414"))->reading->patch("D1")->mean, plain.patch("D1")->mean);
}

void WindowTest::withoutAJobThereAreWaysToBegin()
{
    m_window->action("closeJob")->trigger();
    QVERIFY(!m_window->desk()->job()->isOpen());
    QStringList ways;
    for (const auto *button : m_window->findChildren<QPushButton *>())
        if (button->isVisible())
            ways << button->text();
    QVERIFY(ways.contains("New Job…") && ways.contains("Open Job…") && ways.contains("Make Demo Day…"));
    for (const char *name : {"bringIn", "profiles", "bench", "daySheet", "changeLight"})
        QVERIFY(!m_window->action(name)->isEnabled());
    m_window->desk()->bringIn({demo() + "/frames/HR_0414.dng"});
    QVERIFY(m_window->desk()->strip()->message().contains("job"));
    QVERIFY(!m_window->desk()->openJob(m_folder.filePath("no-job-here")));
    QVERIFY(m_window->desk()->strip()->message().contains("no job"));
}

void WindowTest::aWatchedFolderBringsFramesInWhenTheyAreWhole()
{
    QVERIFY(bool(m_window->desk()->job()->create(m_folder.filePath("tether"), "Tether")));
    m_window->desk()->showDaySheet();
    const QString inbox = m_folder.filePath("inbox");
    QVERIFY(QDir().mkpath(inbox));
    QVERIFY(QFile::copy(demo() + "/frames/HR_0412.dng", inbox + "/old.dng")); // lay there before
    QTest::qWait(100);
    m_window->desk()->watch()->start(inbox);
    QFile source(demo() + "/frames/HR_0414.dng"), slow(inbox + "/slow.dng");
    QVERIFY(source.open(QIODevice::ReadOnly) && slow.open(QIODevice::WriteOnly));
    for (int part = 0; part < 4; ++part) { // a slow copy: never still for two looks
        slow.write(source.read(source.size() / 4 + 1));
        slow.flush();
        QTest::qWait(400);
        QVERIFY(m_window->desk()->job()->state().frames.empty());
    }
    slow.close();
    QVERIFY(QFile::copy(demo() + "/frames/HR_0416.dng", inbox + "/tmp.partial"));
    QVERIFY(QFile::rename(inbox + "/tmp.partial", inbox + "/renamed.dng"));
    QTRY_COMPARE_WITH_TIMEOUT(m_window->desk()->job()->state().frames.size(), size_t(2), 30000);
    QTest::qWait(1500);
    QCOMPARE(m_window->desk()->job()->state().frames.size(),
             size_t(2)); // once each, and not what lay there before
    // of its full size from the start, and stalled on the way
    QSignalSpy problems(m_window->desk()->intake(), &Intake::problem);
    QFile whole(demo() + "/frames/HR_0419.dng"), stalled(inbox + "/stalled.dng");
    QVERIFY(whole.open(QIODevice::ReadOnly) && stalled.open(QIODevice::WriteOnly));
    const auto bytes = whole.readAll();
    QVERIFY(stalled.resize(bytes.size()) && stalled.write(bytes.left(bytes.size() / 3)) > 0 &&
            stalled.flush());
    QTest::qWait(2500);
    QCOMPARE(m_window->desk()->job()->state().frames.size(), size_t(2));
    stalled.write(bytes.mid(bytes.size() / 3));
    stalled.close();
    QTRY_COMPARE_WITH_TIMEOUT(m_window->desk()->job()->state().frames.size(), size_t(3), 30000);
    QTest::qWait(1500);
    QCOMPARE(m_window->desk()->job()->state().frames.size(), size_t(3));
    QCOMPARE(problems.count(), 0);
    m_window->desk()->watch()->stop();
}

void WindowTest::brokenAndKnownFilesAreTold()
{
    QFile file(m_folder.filePath("torn.dng"));
    QVERIFY(file.open(QIODevice::WriteOnly));
    QFile whole(demo() + "/frames/HR_0414.dng");
    QVERIFY(whole.open(QIODevice::ReadOnly));
    file.write(whole.read(whole.size() / 2));
    file.close();
    QSignalSpy done(m_window->desk()->intake(), &Intake::finished);
    const auto before = m_window->desk()->job()->state();
    m_window->desk()->bringIn({file.fileName()});
    QTRY_COMPARE_WITH_TIMEOUT(done.count(), 1, 30000);
    QVERIFY2(m_window->desk()->strip()->message().contains("torn.dng"),
             qPrintable(m_window->desk()->strip()->message()));
    m_window->desk()->bringIn({whole.fileName()});
    QTRY_COMPARE_WITH_TIMEOUT(done.count(), 2, 30000);
    QVERIFY(m_window->desk()->strip()->message().contains("already in the job"));
    QCOMPARE(m_window->desk()->job()->state(), before);
    QTest::keyClick(m_window.get(), Qt::Key_Escape);
    QVERIFY(m_window->desk()->strip()->message().isEmpty());
}

void WindowTest::aJobOpenElsewhereIsOnlyLookedAt()
{
    MainWindow second;
    second.show();
    QVERIFY(second.desk()->openJob(demo()));
    QVERIFY(second.desk()->job()->isReadOnly());
    QVERIFY(second.desk()->strip()->message().contains("open in another window or program"));
    QVERIFY(!second.action("bringIn")->isEnabled() && !second.action("renameSetup")->isEnabled());
    second.desk()->bringIn({demo() + "/frames/HR_0414.dng"});
    QVERIFY(!second.desk()->intake()->isRunning());
    QCOMPARE(second.desk()->job()->state(), m_window->desk()->job()->state());
}

void WindowTest::findingAgainUndoesTheHand()
{
    openBench(1);
    const auto found = m_window->desk()->bench()->facts().reading->corners;
    drag(view()->viewFromFrame(found[0]), {30, 30});
    QVERIFY(m_window->desk()->bench()->facts().reading->corners != found);
    m_window->action("readAgain")->trigger();
    QTRY_COMPARE_WITH_TIMEOUT(m_window->desk()->bench()->facts().reading->placedBy, PlacedBy::Search, 20000);
    QCOMPARE(m_window->desk()->bench()->facts().reading->corners, found);
}

void WindowTest::aFrameWithoutAChartCanBePlacedByHand()
{
    openBench(1, "0416");
    QVERIFY(!m_window->desk()->bench()->facts().reading);
    m_window->action("placeByHand")->trigger();
    QTRY_VERIFY_WITH_TIMEOUT(m_window->desk()->bench()->facts().reading &&
                                 m_window->desk()->bench()->facts().reading->found,
                             20000);
    QCOMPARE(m_window->desk()->bench()->facts().reading->worst(),
             Severity::Stop); // yarn is no chart, and it says so
    QCOMPARE(m_window->desk()->job()->state().frame(frameNamed("0416"))->part, FramePart::Chart);
    m_window->action("undo")->trigger();
    QVERIFY(!m_window->desk()->bench()->facts().reading);
}

void WindowTest::setupsAreNamedAndFramesSetAside()
{
    m_window->desk()->daySheet()->canvas()->select(frameNamed("0414"));
    m_window->action("renameSetup")->trigger();
    auto *dialog = m_window->findChild<SetupDialog *>();
    QVERIFY(dialog);
    dialog->findChild<QLineEdit *>("title")->setText("South bay");
    dialog->accept();
    QCOMPARE(m_window->desk()->job()->state().setups.front().title, std::string("South bay"));
    m_window->desk()->daySheet()->canvas()->select(frameNamed("0414"));
    m_window->action("setAside")->trigger();
    // the next best of the bracket answers
    QCOMPARE(m_window->desk()->job()->stations().all().front()->answer.frame, frameNamed("0413"));
    m_window->action("removeFrame")->trigger();
    QCOMPARE(frameNamed("0414"), RowId(0));
    m_window->desk()->daySheet()->canvas()->select(frameNamed("0413"));
    m_window->action("removeFrame")->trigger();
    // with no good chart left, a spoilt one is all there is to answer
    QCOMPARE(m_window->desk()->job()->stations().all().front()->answer.state, Answer::State::ShootAgain);
    QCOMPARE(m_window->desk()->job()->undoStack()->count(), 4);
}

void WindowTest::surroundsAreNeutral()
{
    // "All chrome is R = G = B": every pixel outside patches and pictures, on an empty job
    QVERIFY(bool(m_window->desk()->job()->create(m_folder.filePath("grey"), "Grey")));
    m_window->desk()->showDaySheet();
    for (int i = 0; i < 3; ++i) {
        QTest::keyClick(m_window.get(), Qt::Key_F9);
        QTest::qWait(50);
        const auto picture = m_window->grab().toImage();
        int coloured = 0;
        for (int y = 0; y < picture.height(); y += 2)
            for (int x = 0; x < picture.width(); x += 2) {
                const QColor c = picture.pixelColor(x, y);
                coloured += std::max({std::abs(c.red() - c.green()), std::abs(c.green() - c.blue())}) > 2;
            }
        QCOMPARE(coloured, 0);
        const auto p = QApplication::palette();
        const auto luminance = [](const QColor &c) { return std::pow(c.redF(), 2.2); };
        const double a = luminance(p.color(QPalette::Window)), b = luminance(p.color(QPalette::WindowText));
        QVERIFY((std::max(a, b) + 0.05) / (std::min(a, b) + 0.05) >= 4.5); // "contrast at least 4.5 to 1"
    }
}

/// One hand and one modifier at most; redo is everywhere so.
void WindowTest::keysAreFewAndDiffer()
{
    QSet<QString> keys;
    for (const auto *action : m_window->actions()) {
        const auto key = action->shortcut().toString();
        QVERIFY2(key.isEmpty() || !keys.contains(key), qPrintable(action->text()));
        keys.insert(key);
        QVERIFY2(key.count('+') <= 1 || key == "Ctrl+Shift+Z", qPrintable(action->text()));
    }
    QVERIFY(keys.size() > 20);
}

/// Each action says what it is for and, while it cannot be used, why.
void WindowTest::everyActionHasAReason()
{
    int notNow = 0;
    for (const auto *action : m_window->actions()) {
        if (action->statusTip().isEmpty()) { // the undo stack's own
            QVERIFY2(action->objectName() == "undo" || action->objectName() == "redo",
                     qPrintable(action->text()));
            continue;
        }
        const auto lines = action->toolTip().split('\n');
        QVERIFY2(lines.front().startsWith(action->statusTip()), qPrintable(action->text()));
        QCOMPARE(lines.size(), action->isEnabled() ? 1 : 2);
        if (action->isEnabled())
            continue;
        ++notNow;
        QVERIFY2(lines.back().startsWith("Not now: ") && lines.back().size() > 20 &&
                     lines.back().endsWith('.'),
                 qPrintable(action->text() + ": " + lines.back()));
    }
    QVERIFY(notNow > 10);
}

void WindowTest::anActionIsFoundByItsName()
{
    openBench(2);
    const auto find = [&](const char *typed) {
        m_window->activateWindow(); // a dialog that closes gives it back in its time
        (void)QTest::qWaitForWindowActive(m_window.get());
        QTest::keyClick(m_window.get(), Qt::Key_F7);
        auto *finder = m_window->findChild<ActionFinder *>();
        if (finder)
            QTest::keyClicks(finder->line(), typed);
        return finder;
    };
    auto *finder = find("flat");
    QVERIFY(finder);
    QCOMPARE(finder->found().front(), QString("This Is a Flat"));
    QTest::keyClick(finder, Qt::Key_Escape);
    QTRY_VERIFY(!m_window->findChild<ActionFinder *>());
    const auto before = m_window->desk()->bench()->facts().balance->lean.warmer;
    finder = find("lean warm");
    QCOMPARE(finder->found(), QStringList{"Lean Warmer"});
    QTest::keyClick(finder->line(), Qt::Key_Return);
    QTRY_COMPARE(m_window->desk()->bench()->facts().balance->lean.warmer, before + 1);
    QVERIFY(!m_window->findChild<ActionFinder *>());
    finder = find("confirm probes"); // of a product frame only: it stays, and says why
    QVERIFY(!finder->found().isEmpty());
    QTest::keyClick(finder->line(), Qt::Key_Return);
    QVERIFY(finder->isVisible());
    finder->line()->setText("no such thing");
    QVERIFY(finder->found().isEmpty());
    QTest::keyClick(finder->line(), Qt::Key_Return);
    QTest::keyClick(finder, Qt::Key_Escape);
    m_window->action("undo")->trigger();
}

/// Its chart can still be seen and moved over nothing; a folder gives it back.
void WindowTest::aFrameWhoseFileIsGoneTakesKeysAndIsFoundAgain()
{
    const auto id = frameNamed("0414");
    const auto path = text(
        m_window->desk()->job()->store()->fullPath(*m_window->desk()->job()->state().frame(id)).string());
    QDir(m_folder.path()).mkpath("elsewhere/deeper");
    const auto away = m_folder.filePath("elsewhere/deeper/other name.dng");
    QVERIFY(QFile::rename(path, away));
    m_window->desk()->showBench(id);
    m_window->desk()->bench()->openStop(1);
    QTRY_VERIFY(!m_window->desk()->tasks()->isBusy("frame"));
    for (const auto key : {Qt::Key_Tab, Qt::Key_Right, Qt::Key_Down, Qt::Key_BracketLeft, Qt::Key_H})
        QTest::keyClick(view(), key);
    QVERIFY(!m_window->desk()->editor()->picture() ||
            !m_window->desk()->editor()->picture()->fault.isEmpty());
    QVERIFY(m_window->action("findAgain")->isEnabled());
    m_window->frameActions()->findFramesIn(m_folder.filePath("elsewhere"));
    QTRY_COMPARE(m_window->desk()->job()->state().frame(id)->path, away.toStdString());
    QTRY_VERIFY(m_window->desk()->editor()->picture() &&
                m_window->desk()->editor()->picture()->fault.isEmpty());
    QVERIFY(QFile::rename(away, path));
    while (m_window->desk()->job()->undoStack()->canUndo())
        m_window->desk()->job()->undoStack()->undo();
    QCOMPARE(
        text(
            m_window->desk()->job()->store()->fullPath(*m_window->desk()->job()->state().frame(id)).string()),
        path);
}

/// A chart that comes in while a dialog is open about another frame does not take the bench from under it.
void WindowTest::whatArrivesWaitsForTheQuestion()
{
    openBench(3);
    const auto here = m_window->desk()->job()->currentFrame();
    m_window->action("weights")->trigger();
    auto *dialog = m_window->findChild<QInputDialog *>();
    QVERIFY(dialog && dialog->isVisible());
    QVERIFY(QFile::copy(demo() + "/frames/HR_0424.dng", m_folder.filePath("again.dng")));
    QFile again(m_folder.filePath("again.dng")); // another file by a byte behind its end
    QVERIFY(again.open(QIODevice::Append) && again.write("x") == 1);
    again.close();
    const auto frames = m_window->desk()->job()->state().frames.size();
    m_window->desk()->bringIn({again.fileName()});
    QTRY_COMPARE_WITH_TIMEOUT(m_window->desk()->job()->state().frames.size(), frames + 1, 20000);
    QTRY_VERIFY(!m_window->desk()->intake()->isRunning());
    QCOMPARE(m_window->desk()->job()->currentFrame(), here);
    dialog->setTextValue("neutrals");
    dialog->accept();
    QTRY_VERIFY_WITH_TIMEOUT(m_window->desk()->job()->currentFrame() != here, 10000); // now it is shown
    QTRY_VERIFY(m_window->desk()->job()->undoStack()->count() == 2);
    bool weighed = false;
    for (const auto *row : m_window->desk()->job()->state().calibrationsOf(here))
        weighed = weighed || row->calibration->asked.weights == "neutrals";
    QVERIFY(weighed); // the frame that the question was about
    while (m_window->desk()->job()->undoStack()->canUndo())
        m_window->desk()->job()->undoStack()->undo();
    QFile::remove(again.fileName());
}

void WindowTest::aDoubtIsAskedAbout()
{
    openBench(2);
    for (const bool all : {false, true}) {
        m_window->desk()->editor()->balanceFromGreys({"A2"});
        auto *box = m_window->findChild<QMessageBox *>("allTheSame");
        QVERIFY(box && box->text().contains("A2 is not neutral"));
        for (auto *button : box->buttons())
            if ((box->buttonRole(button) == QMessageBox::AcceptRole) == all)
                button->click();
        QTRY_VERIFY(!m_window->findChild<QMessageBox *>("allTheSame"));
        QCOMPARE(m_window->desk()->job()->undoStack()->count(), all ? 1 : 0);
    }
    m_window->desk()->job()->undoStack()->undo();
}

void WindowTest::hundredPercentShowsEveryPixel()
{
    openBench(1);
    view()->zoomToPixels();
    QTRY_VERIFY_WITH_TIMEOUT(!view()->pixelArea().isEmpty(), 20000);
    const auto open = view()->frame();
    const QRect area = view()->pixelArea();
    const auto middle = view()->frameFromView(QPointF(view()->width() / 2.0, view()->height() / 2.0));
    QVERIFY(area.contains(int(middle.x), int(middle.y)));
    // what is seen is what the core makes of those pixels, in the frame's colours
    const auto meant =
        lookOf(*TruePixelSource(open->frame).read({area.x(), area.y(), area.width(), area.height()}, true),
               shownBy(*open->frame, &*open->calibration, open->multipliers));
    const auto shot = view()->grab().toImage();
    int compared = 0;
    for (int y = 20; y < view()->height() - 20; y += 7)
        for (int x = 20; x < view()->width() - 20; x += 7) {
            const auto at = view()->frameFromView(QPointF(x + 0.5, y + 0.5));
            const int px = int(at.x) - area.x(), py = int(at.y) - area.y();
            if (px < 1 || py < 1 || px >= area.width() - 1 || py >= area.height() - 1)
                continue;
            compared += shot.pixel(x, y) == meant.rgb[size_t(py) * size_t(area.width()) + size_t(px)];
        }
    QVERIFY2(compared > 1000, qPrintable(QString::number(compared))); // but for what is drawn over it
    // another colour sees the same pixels anew
    const auto before = shot.pixel(30, 30);
    QTest::keyClick(m_window.get(), Qt::Key_3);
    m_window->desk()->bench()->editor()->chooseParts({"balance", "as-shot"});
    QTest::keyClick(m_window.get(), Qt::Key_1);
    QTRY_VERIFY_WITH_TIMEOUT(view()->frame()->calibration->parts.colour == "balance", 60000);
    QTRY_VERIFY_WITH_TIMEOUT(view()->grab().toImage().pixel(30, 30) != before, 60000);
    QVERIFY(!view()->pixelArea().isEmpty());
}

void WindowTest::theMonitorsProfileIsUsedAndSaid()
{
    QTemporaryDir folder;
    QSettings::setPath(QSettings::NativeFormat, QSettings::UserScope, folder.path());
    const auto file = folder.filePath("wide.icc");
    QVERIFY(writeWhole({{file.toStdString(), *iccProfileOf(*rgbSpaceFromId("display-p3"))}}));
    auto &monitor = ScreenProfile::current();
    monitor.useNone();
    openBench(1);
    QTRY_VERIFY_WITH_TIMEOUT(!view()->frame()->levels.back().isNull(), 20000);
    const auto before = view()->frame()->levels.back();
    const auto red = screenColor({50, 60, 40});
    QVERIFY(m_window->action("monitorFile")->text().contains("sRGB"));
    QVERIFY(monitor.useFile(file));
    QVERIFY(m_window->action("monitorFile")->text().contains("Display P3"));
    QTRY_VERIFY_WITH_TIMEOUT(
        view()->frame()->screen.get() == monitor.screen() && view()->frame()->levels.back() != before, 20000);
    QVERIFY(screenColor({50, 60, 40}) != red);
    // kept for the next run; a file that is gone is told, and what was in use stays
    QVERIFY(!monitor.useFile(folder.filePath("gone.icc")));
    QVERIFY(m_window->action("monitorFile")->text().contains("Display P3"));
    monitor.useNone();
    monitor.restore(m_window->desk()->tasks());
    QVERIFY(monitor.screen() == nullptr && monitor.from() == ScreenProfile::From::None);
    QCOMPARE(screenColor({50, 60, 40}), red);
}

static const testing::Registered<WindowTest> registeredWindowTest("window_test");
#include "window_test.moc"
