#include "app/model/spoken.h"
#include "app/view/bench/product/product_bench.h"
#include "app/view/bench/product/product_panel.h"
#include "app/view/bench/product/product_view.h"
#include "app/view/bench/product/trend_strip.h"
#include "app/view/handover/form_dialog.h"
#include "app/view/handover/handover.h"
#include "core/formats/whole_file.h"
#include "core/raw/file_digest.h"
#include "core/raw/open_frame.h"
#include "core/tasks/fit_task.h"
#include "core/tasks/probe_task.h"
#include "core/tasks/read_task.h"
#include "core/words/setting_words.h"
#include "support/preview.h"
#include "support/registry.h"
#include "support/window_fixture.h"

#include <QBuffer>
#include <QComboBox>
#include <QDialog>
#include <QDialogButtonBox>
#include <QDir>
#include <QDirIterator>
#include <QDoubleSpinBox>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QLabel>
#include <QLineEdit>
#include <QMessageBox>
#include <QProcess>
#include <QPushButton>
#include <QSignalSpy>
#include <QTreeWidget>
#include <QWheelEvent>

using namespace wavechroma;
using namespace wavechroma::app;

/// Product frames on the bench, long runs on the day sheet, and the handover, in the real window.
class ProductWindowTest : public WindowFixture
{
    Q_OBJECT
private slots:
    void initTestCase() { makeDay(); }
    void init() { openWindow(); }
    void cleanup() { closeWindow(); }
    void aFormIsGivenItsOwnColour();
    void aCropIsDrawnAndCarriedOverARun();
    void aRulerIsKeptAsTheScale();
    void aFormKeepsItsFolderAndSaysWhatIsStale();
    void probesReadAsTheCommandDoes();
    void theOtherVersionComesWhileAKeyIsHeld();
    void otherCamerasAndTheFileItselfAreVersions();
    void anEdgePartsTheTwo();
    void levelAndBalanceAreItsOwn();
    void anotherChartCanServe();
    void probesAreLaidMovedAndSized();
    void aTargetIsTypedAndHeldTo();
    void whatIsReadHereIsTheTarget();
    void aThingIsFollowedOverTheDay();
    void doubtedColoursAreHatched();
    void coloursOutsideASpaceAreHatched();
    void aRunTakesAllAndGivesItBackInOneStep();
    void probesWithTargetsAreFittedAlong();
    void proposedProbesFollowThePicture();
    void theNextFrameIsThereAhead();
    void longRunsFoldAndOpenWhereOneWorks();
    void theHandoverIsTheDryRun();
    void whatItWritesIsWhatTheCommandWrites();
    void whatIsInTheWayIsReplacedOnlyWhenAsked();
    void framesStayAndFormsChange();
    void aStoppedDeliveryGoesOn();

private:
    ProductBench *product() const { return m_window->desk()->bench()->product(); }
    const ProductFacts &facts() const { return *product()->editor()->facts(); }
    ProductView *picture() const { return product()->view(); }
    Handover *handover() const { return m_window->desk()->handoverPlace(); }
    void openProduct(const char *frame = "0416");
    /// Other bytes for a frame of the job that is closed, which knows their hash.
    void replaceFile(RowId frame, const Bytes &bytes) const;
    const Probe *probe(const std::string &name) const;
    QByteArray command(const QStringList &arguments) const;
    /// More product frames like one, a few seconds apart, in the open job.
    void addRun(const char *like, int count);
    QColor colourAt(const QPointF &at) const { return picture()->grab().toImage().pixelColor(at.toPoint()); }
};

void ProductWindowTest::replaceFile(RowId id, const Bytes &bytes) const
{
    const auto opened = JobStore::open(demo().toStdString());
    QVERIFY(bool(opened));
    const auto &store = *opened;
    const auto state = *store->load();
    auto frame = *state.frame(id);
    QVERIFY(bool(writeWhole({{store->fullPath(frame), bytes}})));
    frame.sha256 = *sha256OfFile(store->fullPath(frame));
    JobChange change;
    change.frames.push_back({*state.frame(id), frame});
    QVERIFY(bool(store->apply(change)));
}

void ProductWindowTest::openProduct(const char *frame)
{
    m_window->desk()->daySheet()->canvas()->select(frameNamed(frame));
    QTest::keyClick(m_window.get(), Qt::Key_F3);
    QTRY_VERIFY_WITH_TIMEOUT(picture()->frame() != nullptr, 20000);
    QTRY_VERIFY2_WITH_TIMEOUT(!facts().probes.probes.empty(), qPrintable(m_window->statusTip()), 20000);
}

const Probe *ProductWindowTest::probe(const std::string &name) const
{
    for (const auto &one : facts().probes.probes)
        if (one.place.name == name)
            return &one;
    return nullptr;
}

QByteArray ProductWindowTest::command(const QStringList &arguments) const
{
    QProcess process;
    process.setWorkingDirectory(m_folder.path());
    process.start(qEnvironmentVariable("WAVECHROMA_CLI"), arguments);
    process.waitForFinished(60000);
    return process.readAllStandardOutput();
}

void ProductWindowTest::addRun(const char *like, int count)
{
    JobChange change;
    const auto &state = m_window->desk()->job()->state();
    auto frame = *state.frame(frameNamed(like));
    RowId next = nextId(state);
    for (int i = 0; i < count; ++i) {
        frame.id = next++;
        const int seconds = 2 * i;
        frame.camera.capturedAt = QString("2026-10-14T09:%1:%2")
                                      .arg(36 + (52 + seconds) / 60, 2, 10, QChar('0'))
                                      .arg((52 + seconds) % 60, 2, 10, QChar('0'))
                                      .toStdString();
        change.frames.push_back({std::nullopt, frame});
    }
    m_window->desk()->job()->push("A run", change);
}

void ProductWindowTest::probesReadAsTheCommandDoes()
{
    openProduct();
    QCOMPARE(facts().probes.probes.size(), size_t(5));
    const auto said =
        QJsonDocument::fromJson(command({"probe", demo() + "/frames/HR_0416.dng", "--job", demo()}));
    const auto probes = said.object()["probes"].toArray();
    QCOMPARE(probes.size(), 5);
    for (int i = 0; i < 5; ++i) {
        const auto one = probes[i].toObject();
        const auto *shown = probe(one["name"].toString().toStdString());
        QVERIFY(shown && shown->lab && shown->target);
        QCOMPARE(one["lab"].toArray()[0].toDouble(), shown->lab->l);
        QCOMPARE(one["lab"].toArray()[1].toDouble(), shown->lab->a);
        QCOMPARE(one["de00"].toDouble(), shown->de00);
        QCOMPARE(one["foretold_error"].toDouble(), *shown->foretold);
    }
    QCOMPARE(product()->panel()->list()->model()->rowCount(), 5);
    QVERIFY(product()->panel()->servedBy().contains("09:22"));
}

void ProductWindowTest::theOtherVersionComesWhileAKeyIsHeld()
{
    openProduct();
    QCOMPARE(product()->otherName(), QString("white balance alone"));
    QTRY_VERIFY_WITH_TIMEOUT(!picture()->probeOnView("rowan").isNull(), 5000);
    const auto at = picture()->probeOnView("rowan") + QPointF(0, -80);
    QTest::qWait(700); // the other version is made meanwhile, and all of this one is there
    const auto now = colourAt(at);
    QTest::keyPress(picture(), Qt::Key_B);
    QTRY_VERIFY(picture()->isFlicked());
    const auto other = colourAt(at);
    QVERIFY2(other != now, qPrintable(other.name()));
    QTest::keyRelease(picture(), Qt::Key_B);
    QVERIFY(!picture()->isFlicked());
    QCOMPARE(colourAt(at), now);
    QTest::keyClick(m_window.get(), Qt::Key_V);
    QVERIFY(product()->otherName() != "white balance alone");
}

/// Another body's colours in the same light, and the picture that the file holds of itself.
void ProductWindowTest::otherCamerasAndTheFileItselfAreVersions()
{
    openProduct();
    const auto path = m_window->desk()->job()->store()->fullPath(*facts().frame);
    const auto whole = *readWhole(path), raw = wavechroma::testing::withoutPreview(whole);
    const auto frame = facts().frame->id;
    closeWindow();
    replaceFile(frame, raw);
    openWindow();
    openProduct();
    QStringList names;
    for (const auto &other : product()->editor()->others())
        names << other.name;
    const auto *row = m_window->desk()->job()->state().frame(frameNamed("MB_0052"));
    const auto others = "colours of " + QString::fromStdString(row->camera.model);
    QVERIFY2(names.contains(others), qPrintable(names.join(", ")));
    QCOMPARE(names.last(), QString("the file's own picture"));
    const auto other = product()->editor()->others()[size_t(names.indexOf(others))];
    const auto *own = m_window->desk()->job()->stations().calibrationFor(m_window->desk()->job()->state(),
                                                                         facts().frame->id);
    QVERIFY(other.calibration->matrix != own->calibration->matrix);
    QCOMPARE(other.calibration->multipliers, own->calibration->multipliers); // greys stay grey

    const auto showOwn = [&] {
        for (int i = 0; i < names.size() && product()->otherName() != names.last(); ++i)
            QTest::keyClick(m_window.get(), Qt::Key_V);
        QCOMPARE(product()->otherName(), names.last());
    };
    showOwn();
    const auto hint = [&] {
        for (const auto *label : product()->findChildren<QLabel *>())
            if (label->text().contains("another version"))
                return label->text();
        return QString();
    };
    QTRY_VERIFY2(hint().contains("holds no embedded picture"), "nothing was said");

    // the same frame as a camera would have written it, with a picture that is magenta all over
    QImage magenta(120, 80, QImage::Format_RGB32);
    magenta.fill(QColor(255, 0, 255));
    QByteArray jpeg;
    QBuffer buffer(&jpeg);
    QVERIFY(magenta.save(&buffer, "JPEG", 100));
    closeWindow();
    replaceFile(frame, wavechroma::testing::withPreview(raw, {jpeg.begin(), jpeg.end()}, 120, 80));
    openWindow();
    openProduct();
    showOwn();
    QTRY_VERIFY_WITH_TIMEOUT(!picture()->probeOnView("rowan").isNull(), 5000);
    const auto at = picture()->probeOnView("rowan") + QPointF(0, -80);
    const auto isMagenta = [&] {
        const auto c = colourAt(at);
        return c.red() > 245 && c.green() < 10 && c.blue() > 245;
    };
    QVERIFY(!isMagenta());
    const auto isMagentaWhileHeld = [&] {
        QTest::keyPress(picture(), Qt::Key_B);
        const bool seen = isMagenta();
        QTest::keyRelease(picture(), Qt::Key_B);
        return seen;
    };
    QTRY_VERIFY_WITH_TIMEOUT(isMagentaWhileHeld(), 20000); // once it is read
    QVERIFY(!isMagenta());
    closeWindow();
    replaceFile(frame, whole);
    openWindow();
}

void ProductWindowTest::anEdgePartsTheTwo()
{
    openProduct();
    QTest::qWait(500);
    const auto at = picture()->probeOnView("rowan") + QPointF(0, -80);
    const auto now = colourAt(at);
    m_window->action("split")->trigger();
    QCOMPARE(picture()->splitAt(), 0.5);
    QCOMPARE(colourAt(at), now); // right of the edge
    const QPoint edge(picture()->width() / 2, 60), beyond(picture()->width() - 6, 60);
    QTest::mousePress(picture(), Qt::LeftButton, {}, edge);
    QTest::mouseMove(picture(), beyond);
    QTest::mouseRelease(picture(), Qt::LeftButton, {}, beyond);
    QVERIFY(picture()->splitAt() > 0.95);
    QVERIFY(colourAt(at) != now);
    m_window->action("split")->trigger();
}

void ProductWindowTest::levelAndBalanceAreItsOwn()
{
    openProduct();
    const double before = probe("oat")->lab->l;
    QTest::keyClick(m_window.get(), Qt::Key_Up, Qt::ControlModifier);
    QTRY_VERIFY(probe("oat")->lab->l > before + 3); // a third of a stop
    QVERIFY(product()->panel()->level().contains("lighter"));
    QTest::keyClick(m_window.get(), Qt::Key_Z, Qt::ControlModifier);
    QTRY_COMPARE(probe("oat")->lab->l, before);
    const double warm = probe("oat")->lab->b;
    QTest::keyClick(m_window.get(), Qt::Key_Up, Qt::AltModifier); // a step of the lean
    QTRY_VERIFY(probe("oat")->lab->b > warm + 0.5);
    m_window->action("neutralDefault")->trigger();
    QTRY_COMPARE(probe("oat")->lab->b, warm);
}

void ProductWindowTest::anotherChartCanServe()
{
    openProduct("0420"); // between two charts of its station
    const auto by = facts().serving.chart;
    QCOMPARE(facts().charts.size(), size_t(2));
    const auto other = facts().charts[0] == by ? facts().charts[1] : facts().charts[0];
    const auto lab = *facts().probes.probes.front().lab;
    product()->editor()->serveBy(other);
    QCOMPARE(facts().serving.chart, other);
    QTRY_VERIFY(!(*facts().probes.probes.front().lab == lab));
    QVERIFY(product()->panel()->servedBy().contains("by hand"));
    m_window->desk()->job()->undoStack()->undo();
    QCOMPARE(facts().serving.chart, by);
}

void ProductWindowTest::probesAreLaidMovedAndSized()
{
    openProduct();
    const QPoint empty(picture()->width() / 2, picture()->height() / 2 - 150);
    QTest::mouseDClick(picture(), Qt::LeftButton, {}, empty);
    QTRY_VERIFY(probe("probe 1"));
    QCOMPARE(picture()->picked(), QString("probe 1"));
    const auto was = probe("probe 1")->place;
    const auto steps = m_window->desk()->job()->undoStack()->count();
    QTest::mousePress(picture(), Qt::LeftButton, {}, empty);
    QTest::mouseMove(picture(), empty + QPoint(20, 0));
    QTest::mouseMove(picture(), empty + QPoint(40, 0));
    QTest::mouseRelease(picture(), Qt::LeftButton, {}, empty + QPoint(40, 0));
    QTRY_VERIFY(std::abs(probe("probe 1")->place.x - was.x - 40 / picture()->zoom()) < 2 / picture()->zoom());
    QCOMPARE(m_window->desk()->job()->undoStack()->count(), steps + 1); // a drag is one step
    QWheelEvent wheel(empty + QPoint(40, 0), picture()->mapToGlobal(empty + QPoint(40, 0)), {}, {0, 240}, {},
                      {}, Qt::NoScrollPhase, false);
    QCoreApplication::sendEvent(picture(), &wheel);
    QTRY_VERIFY(probe("probe 1")->place.radius > 1.2 * was.radius);
    m_window->action("removeProbe")->trigger();
    QTRY_VERIFY(!probe("probe 1"));
}

void ProductWindowTest::aTargetIsTypedAndHeldTo()
{
    openProduct();
    picture()->pick("kelp");
    m_window->action("target")->trigger();
    auto *dialog = m_window->findChild<QDialog *>("target");
    QVERIFY(dialog);
    dialog->findChild<QPushButton *>("measure")
        ->click(); // kelp's own colour, but for the instrument's scatter
    const auto measured = colourFromText(dialog->findChild<QLineEdit *>("colour")->text().toStdString());
    QVERIFY(measured && std::abs(measured->l - 42) < 1 && std::abs(measured->a + 22) < 1.5);
    dialog->findChild<QLineEdit *>("colour")->setText("red");
    dialog->findChild<QLineEdit *>("tolerance")->setText("1,5");
    emit dialog->findChild<QDialogButtonBox *>()->accepted();
    QVERIFY(dialog->isVisible()); // that is no colour: it says so and stays
    dialog->findChild<QLineEdit *>("colour")->setText("#8a2be2");
    dialog->findChild<QLineEdit *>("name")->setText("sea kelp");
    emit dialog->findChild<QDialogButtonBox *>()->accepted();
    QTRY_VERIFY(probe("sea kelp") && probe("sea kelp")->target);
    QCOMPARE(*probe("sea kelp")->target->tolerance, 1.5);
    QVERIFY(!*probe("sea kelp")->within && probe("sea kelp")->de00 > 20);
    QTRY_VERIFY2(product()->panel()->verdict().startsWith("sea kelp fails"),
                 qPrintable(product()->panel()->verdict()));
}

void ProductWindowTest::whatIsReadHereIsTheTarget()
{
    openProduct();
    picture()->pick("oat");
    const auto lab = *probe("oat")->lab;
    m_window->action("takeAsTarget")->trigger();
    QTRY_COMPARE(probe("oat")->de00, 0.0);
    openProduct("0418"); // where the same yarn lies, too
    QTRY_VERIFY(probe("oat") && probe("oat")->target->lab == lab);
    QVERIFY(probe("oat")->de00 > 0);
}

void ProductWindowTest::aThingIsFollowedOverTheDay()
{
    openProduct();
    auto *trend = product()->panel()->trend();
    QVERIFY(!trend->isVisible());
    picture()->pick("oat"); // which lies on five frames of four stations
    int frames = 0;
    for (const auto &row : m_window->desk()->job()->state().probes)
        frames += row.place.name == "oat";
    QVERIFY(frames > 3);
    QTRY_COMPARE_WITH_TIMEOUT(trend->count(), frames, 20000);
    QVERIFY(trend->isVisible());
    // each is what the frame itself shows when it is opened
    for (const auto &one : facts().trend)
        if (one.frame == frameNamed("0416"))
            QCOMPARE(one.probe.de00, probe("oat")->de00);
    for (size_t i = 1; i < facts().trend.size(); ++i)
        QVERIFY(facts().trend[i - 1].capturedAt <= facts().trend[i].capturedAt);
    picture()->pick({});
    QTRY_VERIFY(!trend->isVisible());
}

void ProductWindowTest::doubtedColoursAreHatched()
{
    openProduct("0418");
    std::vector<double> foretold;
    for (const auto &one : facts().probes.probes)
        foretold.push_back(*one.foretold);
    std::sort(foretold.rbegin(), foretold.rend());
    QVERIFY(foretold.size() > 2 && foretold[0] > foretold[1] + 0.4);
    const double limit = (foretold[0] + foretold[1]) / 2; // which one of the yarns is expected to miss
    JobChange change;
    auto title = m_window->desk()->job()->state().title;
    auto sheet = sheetOf(m_window->desk()->job()->state());
    sheet.proof.patch = limit;
    title.tolerance = documentOf(sheet);
    change.titles.push_back({m_window->desk()->job()->state().title, title});
    m_window->desk()->job()->push("Stricter", change);
    QTest::qWait(300);
    const auto before = picture()->grab().toImage();
    QTest::keyClick(m_window.get(), Qt::Key_D);
    QTRY_VERIFY_WITH_TIMEOUT(!facts().doubted.isOver.empty(), 10000);
    QVERIFY2(facts().doubted.share > 0.01 && facts().doubted.share < 0.9,
             qPrintable(QString::number(facts().doubted.share)));
    const auto hatched = picture()->grab().toImage();
    QVERIFY(hatched != before);
    // where a probe's own error is foretold above the limit it is hatched, and else not
    int over = 0;
    const auto &doubted = facts().doubted;
    for (const auto &one : facts().probes.probes) {
        const auto cell =
            size_t(int(one.place.y) / doubted.block * doubted.width + int(one.place.x) / doubted.block);
        QCOMPARE(bool(doubted.isOver[cell]), *one.foretold > limit);
        over += *one.foretold > limit;
    }
    QCOMPARE(over, 1);
    QTest::keyClick(m_window.get(), Qt::Key_D);
    QTRY_VERIFY(facts().doubted.isOver.empty());
}

/// A wider space leaves less outside; the sentence has the shares of the core's own call.
void ProductWindowTest::coloursOutsideASpaceAreHatched()
{
    openProduct("0420");
    auto *editor = m_window->desk()->bench()->product()->editor();
    m_window->action("outside")->trigger();
    QTRY_VERIFY_WITH_TIMEOUT(editor->facts()->outside.has_value(), 20000);
    const auto outside = *editor->facts()->outside;
    QCOMPARE(editor->facts()->outsideOf, 0);
    QVERIFY(outside.share[0] >= outside.share[1] && outside.share[1] >= outside.share[3]);
    QCOMPARE(outside.share[3], 0.); // surface colours are inside ROMM RGB
    for (int i = 0; i < 4; ++i)
        m_window->action("outside")->trigger(); // the other three, then none
    QTRY_VERIFY(!editor->facts()->outside.has_value());

    // the yarns are all inside sRGB; a green that no surface has is not, nor is a white beyond white a colour
    const auto &job = m_window->desk()->job()->job();
    const auto &row = *job.rows().frame(frameNamed("0420"));
    const auto frame = openFrame(job.fileOf(row));
    QVERIFY(frame && job.serves(row)->isServed);
    const auto &multipliers = job.serves(row)->calibration.multipliers;
    const auto grey = [&](double level) {
        return std::array{float(level / multipliers[0]), float(level), float(level / multipliers[2])};
    };
    Overview level{3, 1, 1, {}, {0, 0, 0}};
    for (const auto &rgb : {grey(0.3), std::array{0.0F, 0.4F, 0.0F}, grey(4)})
        level.rgb.insert(level.rgb.end(), rgb.begin(), rgb.end());
    const auto made = outsideColours(*frame, level, *job.serves(row));
    QCOMPARE(made.isOutside[0], (std::vector<uint8_t>{0, 1, 0}));
    QVERIFY(std::abs(made.share[0] - 1 / 3.) < 1e-9);
}

void ProductWindowTest::aRunTakesAllAndGivesItBackInOneStep()
{
    addRun("0418", 297);
    openProduct();
    QCOMPARE(facts().run.size(), size_t(300));
    QTest::keyClick(m_window.get(), Qt::Key_Up, Qt::ControlModifier);
    QTest::keyClick(m_window.get(), Qt::Key_Up, Qt::AltModifier);
    const auto before = m_window->desk()->job()->state();
    QTest::keyClick(m_window.get(), Qt::Key_B, Qt::ControlModifier);
    const auto &state = m_window->desk()->job()->state();
    const auto &own = *state.frame(frameNamed("0416"));
    QCOMPARE(own.levelThirds, 1);
    for (const auto id : facts().run) {
        QCOMPARE(state.frame(id)->levelThirds, 1);
        QCOMPARE(state.frame(id)->balance, own.balance);
        QVERIFY(state.probesOf(id).size() >= 5);
    }
    QCOMPARE(state.frame(frameNamed("MB_0052"))->levelThirds, 0); // another camera's run
    m_window->desk()->job()->undoStack()->undo();
    QVERIFY(m_window->desk()->job()->state() == before);
}

/// As `fit --with` does from the same probes.
void ProductWindowTest::probesWithTargetsAreFittedAlong()
{
    openProduct();
    const auto chart = m_window->desk()->job()->job().serving(facts().frame->id).chart;
    QVERIFY(chart != 0);
    m_window->desk()->showBench(chart);
    const auto *bench = m_window->desk()->bench();
    const auto things = [&] {
        return bench->facts().chosen() ? bench->facts().chosen()->things : std::vector<ThingJudged>();
    };
    QTRY_VERIFY_WITH_TIMEOUT(!bench->isProduct() && bench->facts().chosen(), 20000);
    QVERIFY(things().empty());
    m_window->action("fitThings")->trigger();
    QTRY_VERIFY_WITH_TIMEOUT(!things().empty(), 60000);
    QCOMPARE(m_window->action("fitThings")->text(), QString("Fit without Probes"));
    const auto &state = m_window->desk()->job()->state();
    const auto at = [this](const char *name) { return m_folder.filePath(name); };
    QStringList ask{"probe", "--job", demo(), "-o", "probes.json"};
    for (const auto &frame : state.frames)
        if (m_window->desk()->job()->job().serving(frame.id).chart == chart &&
            !placesOn(state, frame.id).empty())
            ask << demo() + "/" + QString::fromStdString(frame.path);
    command(ask);
    QVERIFY(saveReading(at("with.json").toStdString(), *state.readingOf(chart)->reading));
    const auto parts = bench->facts().chosen()->parts;
    command({"fit", "with.json", "--with", "probes.json", "--colour", QString::fromStdString(parts.colour),
             "--tone", QString::fromStdString(parts.tone), "-o", "with-fit.json"});
    const auto same = loadCalibration(at("with-fit.json").toStdString());
    QVERIFY2(bool(same), same ? "" : same.error().message.c_str());
    QCOMPARE(same->things.size(), things().size());
    for (size_t i = 0; i < things().size(); ++i)
        QVERIFY(std::abs(same->things[i].unseen - things()[i].unseen) < 1e-6);
    m_window->action("fitThings")->trigger();
    QTRY_VERIFY_WITH_TIMEOUT(things().empty(), 60000);
}

void ProductWindowTest::proposedProbesFollowThePicture()
{
    openProduct("0417");
    JobChange change; // the run's next frames have no probes of their own
    const auto run = facts().run;
    for (const auto id : {run[1], run[2]})
        for (const auto *row : m_window->desk()->job()->state().probesOf(id))
            change.probes.push_back({*row, std::nullopt});
    m_window->desk()->job()->push("bare", change);
    openProduct("0416");
    const auto places = placesOn(m_window->desk()->job()->state(), frameNamed("0416"));
    QTest::keyClick(m_window.get(), Qt::Key_B, Qt::ControlModifier);
    const auto proposedOf = [&](const char *frame) {
        int count = 0;
        for (const auto *row : m_window->desk()->job()->state().probesOf(frameNamed(frame)))
            count += row->isProposed;
        return count;
    };
    QCOMPARE(proposedOf("0417"), 5);
    m_window->desk()->showBench(frameNamed("0417"));
    QTRY_VERIFY_WITH_TIMEOUT(facts().proposed.size() == 5 && picture()->frame(), 20000);
    QVERIFY(facts().probes.probes.empty()); // nothing is read until an eye has confirmed it
    // they lie where the picture says, not where they were
    const auto followed =
        followedPlaces(demo().toStdString() + "/frames/HR_0416.dng", *picture()->frame()->frame, places);
    QVERIFY(followed != places);
    QTRY_VERIFY_WITH_TIMEOUT(facts().proposed == followed, 10000);
    QTest::keyClick(m_window.get(), Qt::Key_Return);
    QTRY_COMPARE(facts().probes.probes.size(), size_t(5));
    QCOMPARE(proposedOf("0417"), 0);
    QVERIFY(placesOn(m_window->desk()->job()->state(), frameNamed("0417")) == followed);
    QVERIFY(!m_window->action("dropProbes")->isEnabled()); // none are left
}

void ProductWindowTest::theNextFrameIsThereAhead()
{
    openProduct();
    QTest::qWait(1500); // it is decoded meanwhile
    QTest::keyClick(picture(), Qt::Key_PageDown);
    QCOMPARE(m_window->desk()->job()->currentFrame(), frameNamed("0417"));
    QVERIFY(picture()->frame() && picture()->frame()->id == frameNamed("0417")); // at once
    QTest::keyClick(picture(), Qt::Key_PageUp);
    QCOMPARE(m_window->desk()->job()->currentFrame(), frameNamed("0416"));
    QTest::keyClick(picture(), Qt::Key_PageUp); // the run begins here
    QCOMPARE(m_window->desk()->job()->currentFrame(), frameNamed("0416"));
}

void ProductWindowTest::longRunsFoldAndOpenWhereOneWorks()
{
    auto *canvas = m_window->desk()->daySheet()->canvas();
    canvas->select(frameNamed("0414"));
    const int plain = canvas->heightForWidth(1280);
    addRun("0418", 600);
    QVERIFY2(canvas->heightForWidth(1280) <= plain,
             qPrintable(QString::number(canvas->heightForWidth(1280))));
    QCOMPARE(canvas->foldedFrames(frameNamed("0417")), 603);
    const auto run =
        m_window->desk()->job()->stations().runOf(m_window->desk()->job()->state(), frameNamed("0417"));
    canvas->select(run[300]);
    QCOMPARE(canvas->foldedFrames(run[300]), 0);
    QCOMPARE(canvas->foldedFrames(run[303]), 0);
    QCOMPARE(canvas->foldedFrames(run[0]), 297);
    QCOMPARE(canvas->foldedFrames(run[602]), 299);
    QVERIFY(!canvas->frameRect(run[300]).isEmpty());
    QTest::keyClick(canvas, Qt::Key_Right);
    QCOMPARE(canvas->selected(), run[301]);
    // a click on what is folded before goes on there
    const auto folded = canvas->frameRect(run[297]);
    QVERIFY(!folded.isEmpty());
    QTest::mouseClick(canvas, Qt::LeftButton, {}, folded.center());
    QCOMPARE(canvas->selected(), run[297]);
}

void ProductWindowTest::theHandoverIsTheDryRun()
{
    m_window->action("handover")->trigger();
    QTRY_VERIFY_WITH_TIMEOUT(handover()->planModel()->rowCount() > 0, 10000);
    const auto plan = handover()->editor()->asked();
    QFile file(m_folder.filePath("plan.json"));
    QVERIFY(file.open(QIODevice::WriteOnly));
    file.write(QByteArray::fromStdString(documentOf(plan)));
    file.close();
    const auto said = QJsonDocument::fromJson(
        command({"deliver", demo(), "--plan", "plan.json", "--dry-run", "-o", m_folder.filePath("nowhere")}));
    const auto receipts = said.object()["receipts"].toArray();
    QCOMPARE(handover()->planModel()->rowCount(), int(receipts.size()));
    for (int i = 0; i < receipts.size(); ++i)
        QCOMPARE(handover()->planModel()->index(i, 0).data().toString(),
                 receipts[i].toObject()["path"].toString());
    QVERIFY(handover()->summary().contains(QString::number(receipts.size())));
}

void ProductWindowTest::whatItWritesIsWhatTheCommandWrites()
{
    m_window->action("handover")->trigger();
    QTRY_VERIFY_WITH_TIMEOUT(handover()->planModel()->rowCount() > 0, 10000);
    handover()->editor()->setNames("{frame}-{form}");
    handover()->editor()->setFolder(m_folder.filePath("by-window"));
    QSignalSpy spy(handover()->editor(), &DeliveryEditor::finished);
    m_window->action("write")->trigger();
    QTRY_COMPARE_WITH_TIMEOUT(spy.count(), 1, 60000);
    QVERIFY2(spy[0][1].toBool(), qPrintable(spy[0][0].toString()));
    QFile plan(m_folder.filePath("same.json"));
    QVERIFY(plan.open(QIODevice::WriteOnly));
    plan.write(QByteArray::fromStdString(documentOf(handover()->editor()->asked())));
    plan.close();
    command({"deliver", demo(), "--plan", "same.json", "-o", "by-shell"});
    const QDir byShell(m_folder.filePath("by-shell")), byWindow(m_folder.filePath("by-window"));
    const auto filesOf = [](const QDir &folder) {
        QStringList out;
        for (QDirIterator at(folder.path(), QDir::Files, QDirIterator::Subdirectories); at.hasNext();)
            out << folder.relativeFilePath(at.next());
        out.sort();
        return out;
    };
    const auto files = filesOf(byShell);
    QCOMPARE(files.size(), handover()->planModel()->rowCount() + 1); // and the receipts
    QCOMPARE(filesOf(byWindow), files);
    for (const auto &name : files) {
        if (name == "delivery.json")
            continue;
        QFile a(byShell.filePath(name)), b(byWindow.filePath(name));
        QVERIFY(a.open(QIODevice::ReadOnly) && b.open(QIODevice::ReadOnly));
        QVERIFY2(a.readAll() == b.readAll(), qPrintable(name));
    }
}

/// A retouched picture is kept until its own name was read and said yes to.
void ProductWindowTest::whatIsInTheWayIsReplacedOnlyWhenAsked()
{
    m_window->action("handover")->trigger();
    QTRY_VERIFY_WITH_TIMEOUT(handover()->planModel()->rowCount() > 0, 10000);
    handover()->editor()->setNames("{frame}-{form}");
    handover()->editor()->setFolder(m_folder.filePath("by-window")); // written by the test before
    QTRY_VERIFY_WITH_TIMEOUT(handover()->summary().contains("there"), 10000);
    auto *button = handover()->findChild<QPushButton *>("replace");
    QVERIFY(!button->isVisible());
    const auto path =
        m_folder.filePath("by-window/" + handover()->planModel()->index(0, 0).data().toString());
    QFile file(path);
    QVERIFY(file.open(QIODevice::ReadWrite));
    const auto before = file.readAll();
    file.seek(file.size() / 2);
    file.write("retouched"); // of the same size, and at the same second
    file.close();
    QSignalSpy spy(handover()->editor(), &DeliveryEditor::finished);
    m_window->action("write")->trigger();
    QTRY_COMPARE_WITH_TIMEOUT(spy.count(), 1, 60000);
    QTRY_VERIFY(button->isVisible());
    for (const auto *answer : {"Keep Them", "Replace"}) {
        button->click();
        auto *box = handover()->findChild<QMessageBox *>();
        QVERIFY(box && box->informativeText().contains(QFileInfo(path).fileName()));
        QCOMPARE(box->informativeText().split('\n').size(), 1);
        for (auto *choice : box->buttons())
            if (choice->text() == answer)
                choice->click();
        QTRY_VERIFY(!handover()->findChild<QMessageBox *>());
    }
    QTRY_COMPARE_WITH_TIMEOUT(spy.count(), 2, 60000); // only one of them wrote
    QTRY_VERIFY(!button->isVisible());
    QVERIFY(file.open(QIODevice::ReadOnly));
    QVERIFY(file.readAll() == before);
}

void ProductWindowTest::framesStayAndFormsChange()
{
    m_window->action("handover")->trigger();
    QTRY_VERIFY_WITH_TIMEOUT(handover()->planModel()->rowCount() > 0, 10000);
    const int all = handover()->planModel()->rowCount();
    auto *setup = handover()->frames()->topLevelItem(0);
    setup->child(0)->setCheckState(0, Qt::Unchecked); // three frames of the first camera
    QTRY_VERIFY(handover()->planModel()->rowCount() < all);
    QVERIFY(!handover()->editor()->leaves(frameNamed("0416")));
    QVERIFY(handover()->editor()->leaves(frameNamed("MB_0052")));
    m_window->desk()->job()->undoStack()->undo();
    QTRY_COMPARE(handover()->planModel()->rowCount(), all);
    QVERIFY(handover()->editor()->leaves(frameNamed("0416")));
    auto forms = handover()->editor()->asked().forms;
    forms.resize(1);
    handover()->editor()->setForms(forms, "One form");
    QTRY_COMPARE(handover()->planModel()->rowCount(), 8);
    // deliveries lie beside each other, each with forms of its own
    handover()->editor()->add("Second");
    QCOMPARE(handover()->editor()->titles().size(), 2);
    forms.front().name = "small";
    forms.front().picture.longSide = 100;
    handover()->editor()->setForms(forms, "Small");
    QTRY_COMPARE(handover()->editor()->asked().forms.front().name, std::string("small"));
    handover()->editor()->open(0);
    QCOMPARE(handover()->editor()->asked().forms.front().name, std::string("client"));
}

void ProductWindowTest::aStoppedDeliveryGoesOn()
{
    m_window->action("handover")->trigger();
    QTRY_VERIFY_WITH_TIMEOUT(handover()->planModel()->rowCount() > 0, 10000);
    auto *editor = handover()->editor();
    const auto folder = m_folder.filePath("stopped");
    editor->setFolder(folder);
    QSignalSpy steps(editor, &DeliveryEditor::progressed), ends(editor, &DeliveryEditor::finished);
    editor->write();
    QTRY_VERIFY_WITH_TIMEOUT(steps.count() > 3, 20000);
    editor->pause(true);
    QTest::qWait(300);
    const auto paused = steps.count();
    QTest::qWait(300);
    QVERIFY(steps.count() <= paused + 1); // nothing goes on
    editor->stop();
    QTRY_VERIFY_WITH_TIMEOUT(!editor->isWriting(), 20000);
    ends.clear();
    editor->write();
    QTRY_COMPARE_WITH_TIMEOUT(ends.count(), 1, 60000);
    QVERIFY2(ends[0][1].toBool(), qPrintable(ends[0][0].toString()));
    QTRY_VERIFY_WITH_TIMEOUT(handover()->summary().contains("there"), 10000);
    QVERIFY(!QFile::exists(folder + "/.delivery-growing"));
}

void ProductWindowTest::aFormIsGivenItsOwnColour()
{
    DeliveryForm form{"people"};
    form.colour.multipliers = Vector3{2, 1, 1.5};
    FormDialog dialog(form, {}, m_window.get());
    QVERIFY(dialog.form() == form); // what is not touched stays
    auto *colour = dialog.findChild<QComboBox *>("colour");
    colour->setCurrentIndex(colour->findData("matrix"));
    dialog.findChild<QDoubleSpinBox *>("reds")->setValue(-2);
    dialog.findChild<QLineEdit *>("balance")->setText("warm.json");
    const auto out = dialog.form();
    QVERIFY(out.colour.colour == FormColour::Colour::Matrix && out.colour.tone == FormColour::Tone::Job);
    QVERIFY(out.colour.reds == -2 && !out.colour.chroma);
    QVERIFY(out.colour.balance == "warm.json" && !out.colour.multipliers);
    QCOMPARE(text(words::summary(out)),
             QString("TIFF, 16 bits, sRGB, colour 3 × 3, a white balance of its own, reds −2"));
    dialog.findChild<QComboBox *>("kind")->setCurrentIndex(int(FormKind::Values));
    QVERIFY(dialog.form().colour == FormColour());
}

void ProductWindowTest::aCropIsDrawnAndCarriedOverARun()
{
    addRun("0416", 3);
    openProduct();
    const auto frameAt = [&](double x, double y) { return picture()->viewFromFrame({x, y}).toPoint(); };
    const auto click = [&](double x, double y) {
        QTest::mouseClick(picture(), Qt::LeftButton, {}, frameAt(x, y));
    };
    m_window->action("crop")->trigger();
    click(100, 80);
    click(700, 480);
    QTRY_VERIFY(facts().frame->crop.has_value());
    const auto drawn = *facts().frame->crop;
    QVERIFY(std::abs(drawn.x - 100) < 4 && std::abs(drawn.width - 600) < 6 && drawn.degrees == 0);
    m_window->action("cropLine")->trigger();
    click(200, 200);
    click(600, 220);
    QTRY_VERIFY(facts().frame->crop->degrees < -2.5);
    m_window->action("cropCarry")->trigger();
    int carried = 0;
    for (const auto &frame : m_window->desk()->job()->state().frames)
        carried += frame.crop == facts().frame->crop;
    QCOMPARE(carried, int(facts().run.size()));
    QCOMPARE(m_window->desk()->job()->state().frame(frameNamed("0413"))->crop.has_value(), false);
    m_window->desk()->job()->undoStack()->undo(); // in one step
    m_window->desk()->job()->undoStack()->undo();
    QCOMPARE(facts().frame->crop, std::optional(drawn));
    // what leaves is the crop, as the command line has it
    const auto made =
        command({"render", "demo/frames/HR_0416.dng", "--job", "demo", "--format", "png16", "-o", "cut"});
    const auto cut = openFrame((m_folder.path() + "/cut/HR_0416.png").toStdString());
    QVERIFY2(bool(cut), made);
    QCOMPARE(cut->width, int(drawn.width));
    QCOMPARE(cut->height, int(drawn.height));
    m_window->action("cropNone")->trigger();
    QVERIFY(!facts().frame->crop);
}

/// No typing it again: pictures of the station leave with it.
void ProductWindowTest::aRulerIsKeptAsTheScale()
{
    openProduct();
    m_window->desk()->bench()->view()->startTool(FrameView::Tool::Ruler);
    const auto click = [&](double x, double y) {
        QTest::mouseClick(picture(), Qt::LeftButton, {}, picture()->viewFromFrame({x, y}).toPoint());
    };
    click(100, 300);
    click(700, 300);
    m_window->desk()->bench()->measureRuler(60);
    const auto kept = m_window->desk()->job()->state().frame(frameNamed("0416"))->rulerPixelsPerMm;
    QVERIFY2(std::abs(kept - 10) < 0.1, qPrintable(QString::number(kept)));
    QTRY_VERIFY(std::abs(facts().serves.pixelsPerInch - kept * 25.4) < 1e-6);
    command({"render", "demo/frames/HR_0417.dng", "--job", "demo", "-o", "scaled"}); // of the same station
    QProcess tool;
    tool.start("exiftool", {"-s3", "-XResolution", m_folder.path() + "/scaled/HR_0417.tif"});
    QVERIFY(tool.waitForFinished());
    QVERIFY(std::abs(tool.readAllStandardOutput().toDouble() - kept * 25.4) < 0.1);
}

void ProductWindowTest::aFormKeepsItsFolderAndSaysWhatIsStale()
{
    m_window->action("handover")->trigger();
    auto forms = handover()->editor()->asked().forms;
    DeliveryForm tables{"tables", FormKind::Profile};
    tables.profile.files = {ProfileFile::Csv};
    tables.folder = "for-others";
    handover()->editor()->setForms({tables}, "Form");
    QTRY_VERIFY(!handover()->editor()->plan().items.empty());
    QSignalSpy finished(handover()->editor(), &DeliveryEditor::finished);
    m_window->action("write")->trigger();
    QTRY_VERIFY_WITH_TIMEOUT(finished.count() == 1, 60000);
    QVERIFY(QDir(m_folder.path() + "/demo/for-others").exists());
    QTRY_VERIFY(handover()->summary().contains("there"));
    QVERIFY(!handover()->summary().contains("stale"));
    tables.colour.reds = -1; // another calibration, under another name
    handover()->editor()->setForms({tables}, "Form");
    QTRY_VERIFY2(handover()->summary().contains("stale"), qPrintable(handover()->summary()));
}

static const testing::Registered<ProductWindowTest> registeredProductWindowTest("product_window_test");
#include "product_window_test.moc"
