#include "app/model/folder_watch.h"
#include "app/model/intake.h"
#include "app/model/thumbnails.h"
#include "support/demo_day.h"
#include "support/registry.h"

#include <QDir>
#include <QFile>
#include <QSignalSpy>
#include <QTemporaryDir>
#include <QTest>

using namespace wavechroma;
using namespace wavechroma::app;

/// How frames come into a job, by hand and from a folder that fills, without a widget.
class IntakeTest : public QObject
{
    Q_OBJECT
private slots:
    void initTestCase();
    void init();
    void cleanup();
    void framesComeInTimeAndAreOneStep();
    void whatIsThereAlreadyIsNamed();
    void whatCannotBeReadIsNamedAndTheRestGoesOn();
    void whatWaitsOutlivesAStop();
    void whatWaitsGoesWithItsJob();
    void nothingIsTakenWithoutAJob();
    void aFolderThatFillsIsWatched();
    void aFileIsTakenWhenItIsWhole();
    void aFolderThatGoesIsTold();
    void watchingEndsWithTheJob();
    void smallPicturesAreKeptAndMadeAgain();

private:
    QString frame(const char *name) const
    {
        return m_place.filePath(QString("demo/frames/HR_%1.dng").arg(name));
    }
    size_t count() const { return m_document->state().frames.size(); }
    QTemporaryDir m_place;
    std::unique_ptr<TaskRunner> m_runner;
    std::unique_ptr<JobDocument> m_document;
    std::unique_ptr<Intake> m_intake;
    int m_round = 0;
};

void IntakeTest::initTestCase()
{
    testing::layDemoDay(m_place.filePath("demo").toStdString());
}

void IntakeTest::init()
{
    m_runner = std::make_unique<TaskRunner>();
    m_document = std::make_unique<JobDocument>();
    m_intake = std::make_unique<Intake>(m_document.get(), m_runner.get());
    QVERIFY(bool(m_document->create(m_place.filePath(QString("job%1").arg(++m_round)), "made up")));
}

void IntakeTest::cleanup()
{
    m_intake.reset();
    m_document.reset();
    m_runner.reset();
}

void IntakeTest::framesComeInTimeAndAreOneStep()
{
    QSignalSpy charts(m_intake.get(), &Intake::chartArrived), done(m_intake.get(), &Intake::finished),
        steps(m_intake.get(), &Intake::progress);
    m_intake->add({frame("0416"), frame("0414")});
    QVERIFY(m_intake->isRunning());
    QTRY_COMPARE_WITH_TIMEOUT(done.count(), 1, 60000);
    QVERIFY(!m_intake->isRunning());
    QCOMPARE(count(), size_t(2));
    QCOMPARE(charts.count(), 1);
    const auto *chart = m_document->state().frame(charts[0][0].toLongLong());
    QVERIFY(chart && chart->path.find("0414") != std::string::npos && chart->part == FramePart::Chart);
    QVERIFY(m_document->state().readingOf(chart->id) &&
            !m_document->state().calibrationsOf(chart->id).empty());
    double last = 0;
    for (const auto &step : steps) {
        QVERIFY(step[0].toDouble() >= last - 1e-9 && step[0].toDouble() <= 1);
        last = step[0].toDouble();
    }
    QCOMPARE(m_document->undoStack()->count(), 1);
    m_document->undoStack()->undo();
    QCOMPARE(count(), size_t(0));
    m_document->undoStack()->redo();
    QCOMPARE(count(), size_t(2));
}

void IntakeTest::whatIsThereAlreadyIsNamed()
{
    QSignalSpy told(m_intake.get(), &Intake::problem), done(m_intake.get(), &Intake::finished);
    const auto copy = m_place.filePath("another name.dng");
    QVERIFY(QFile::copy(frame("0416"), copy));
    m_intake->add({frame("0416"), copy}); // the same bytes
    QTRY_COMPARE_WITH_TIMEOUT(done.count(), 1, 60000);
    QCOMPARE(count(), size_t(1));
    QCOMPARE(told.count(), 1);
    QVERIFY2(told[0][0].toString().contains("already in the job"), qPrintable(told[0][0].toString()));
    QVERIFY(QFile::remove(copy));
}

void IntakeTest::whatCannotBeReadIsNamedAndTheRestGoesOn()
{
    QSignalSpy told(m_intake.get(), &Intake::problem), done(m_intake.get(), &Intake::finished);
    QFile cut(m_place.filePath("cut.dng"));
    QFile whole(frame("0417"));
    QVERIFY(whole.open(QFile::ReadOnly) && cut.open(QFile::WriteOnly));
    cut.write(whole.read(whole.size() / 3));
    cut.close();
    m_intake->add({cut.fileName(), m_place.filePath("nowhere.dng"), frame("0416")});
    QTRY_COMPARE_WITH_TIMEOUT(done.count(), 1, 60000);
    QCOMPARE(count(), size_t(1));
    QString all;
    for (const auto &problem : told)
        all += problem[0].toString() + "\n";
    QVERIFY2(all.contains("cut.dng") && all.contains("nowhere.dng"), qPrintable(all));
    QVERIFY(m_intake->waiting().isEmpty());
}

void IntakeTest::whatWaitsOutlivesAStop()
{
    QSignalSpy done(m_intake.get(), &Intake::finished);
    m_intake->add({frame("0414"), frame("0416"), frame("0417")});
    m_intake->stop();
    QCOMPARE(done.count(), 1);
    QVERIFY(!m_intake->isRunning());
    QCOMPARE(m_intake->waiting().size(), 3);
    QTest::qWait(300);
    QCOMPARE(count(), size_t(0)); // what was at work is not handed over
    m_intake->addWaiting();
    QVERIFY(m_intake->waiting().isEmpty());
    QTRY_COMPARE_WITH_TIMEOUT(count(), size_t(3), 60000);
    QTRY_VERIFY(!m_intake->isRunning());
    QVERIFY(m_intake->waiting().isEmpty());
}

/// A list of files is of the job that it was given to.
void IntakeTest::whatWaitsGoesWithItsJob()
{
    m_intake->add({frame("0414"), frame("0416")});
    m_intake->stop();
    QCOMPARE(m_intake->waiting().size(), 2);
    const auto first = m_place.filePath(QString("job%1").arg(m_round));
    QVERIFY(bool(m_document->create(m_place.filePath("another"), "another")));
    QVERIFY(m_intake->waiting().isEmpty());
    m_intake->addWaiting();
    QVERIFY(!m_intake->isRunning());
    QCOMPARE(count(), size_t(0));
    QVERIFY(bool(m_document->open(first)));
    QCOMPARE(m_intake->waiting(), (QStringList{frame("0414"), frame("0416")})); // offered again
}

void IntakeTest::nothingIsTakenWithoutAJob()
{
    TaskRunner runner;
    JobDocument none;
    Intake intake(&none, &runner);
    intake.add({frame("0414")});
    QVERIFY(!intake.isRunning());
    QSignalSpy told(m_intake.get(), &Intake::problem);
    QVERIFY(QDir(m_place.path()).mkpath("empty"));
    m_intake->add({m_place.filePath("empty")});
    QCOMPARE(told.count(), 1);
    QVERIFY(!m_intake->isRunning());
}

void IntakeTest::aFolderThatFillsIsWatched()
{
    const auto folder = m_place.filePath("tether");
    QVERIFY(QDir(m_place.path()).mkpath("tether"));
    QVERIFY(QFile::copy(frame("0414"), folder + "/before.dng"));
    QTest::qWait(100); // what was written in the same moment counts as new
    FolderWatch watch(m_document.get(), m_runner.get());
    QSignalSpy arrived(&watch, &FolderWatch::arrived);
    watch.start(folder);
    QVERIFY(watch.isWatching());
    QCOMPARE(watch.folder(), folder);
    QVERIFY(QFile::copy(frame("0416"), folder + "/b.dng") && QFile::copy(frame("0417"), folder + "/a.dng"));
    QFile note(folder + "/note.txt");
    QVERIFY(note.open(QFile::WriteOnly) && note.write("no frame") > 0);
    note.close();
    QTRY_VERIFY_WITH_TIMEOUT(arrived.count() > 0, 10000);
    QTest::qWait(1300); // and no second time
    QStringList files;
    for (const auto &signal : arrived)
        files += signal[0].toStringList();
    files.sort(); // a look may fall between the two copies
    QCOMPARE(files, (QStringList{folder + "/a.dng", folder + "/b.dng"}));
    watch.stop();
    QVERIFY(!watch.isWatching());
    QVERIFY(QFile::copy(frame("0418"), folder + "/later.dng"));
    QTest::qWait(1300);
    QCOMPARE(files.size(), 2);
}

void IntakeTest::aFileIsTakenWhenItIsWhole()
{
    const auto folder = m_place.filePath("slow");
    QVERIFY(QDir(m_place.path()).mkpath("slow"));
    FolderWatch watch(m_document.get(), m_runner.get());
    QSignalSpy arrived(&watch, &FolderWatch::arrived);
    watch.start(folder);
    QFile whole(frame("0416")), target(folder + "/slow.dng");
    QVERIFY(whole.open(QFile::ReadOnly) && target.open(QFile::WriteOnly));
    const auto bytes = whole.readAll();
    target.write(bytes.left(bytes.size() / 2));
    target.flush();
    QTest::qWait(1800); // it rests, and is short
    QCOMPARE(arrived.count(), 0);
    target.write(bytes.mid(bytes.size() / 2));
    target.close();
    QTRY_COMPARE_WITH_TIMEOUT(arrived.count(), 1, 10000);
}

void IntakeTest::aFolderThatGoesIsTold()
{
    const auto folder = m_place.filePath("going");
    QVERIFY(QDir(m_place.path()).mkpath("going"));
    FolderWatch watch(m_document.get(), m_runner.get());
    QSignalSpy told(&watch, &FolderWatch::problem);
    watch.start(folder);
    QVERIFY(QDir(folder).removeRecursively());
    QTRY_COMPARE_WITH_TIMEOUT(told.count(), 1, 5000);
    QVERIFY2(told[0][0].toString().contains("going"), qPrintable(told[0][0].toString()));
    QVERIFY(!watch.isWatching());
    QTest::qWait(700);
    QCOMPARE(told.count(), 1); // once
}

void IntakeTest::watchingEndsWithTheJob()
{
    FolderWatch watch(m_document.get(), m_runner.get());
    watch.start(m_place.path());
    QVERIFY(watch.isWatching());
    QVERIFY(bool(m_document->create(m_place.filePath("yet another"), "yet another")));
    QVERIFY(!watch.isWatching());
}

void IntakeTest::smallPicturesAreKeptAndMadeAgain()
{
    m_intake->add({frame("0416")});
    QTRY_COMPARE_WITH_TIMEOUT(count(), size_t(1), 60000);
    const auto row = m_document->state().frames.front();
    const auto kept = QString::fromStdString((m_document->store()->folder() / "thumbs").string()) + "/";
    QImage first;
    {
        Thumbnails pictures(m_document.get(), m_runner.get());
        QVERIFY(pictures.of(row).isNull()); // on its way
        QTRY_VERIFY_WITH_TIMEOUT(!(first = pictures.of(row)).isNull(), 20000);
        QVERIFY(std::max(first.width(), first.height()) >= 60);
    }
    QVERIFY(QDir(kept).entryList(QDir::Files).size() >= 1);
    for (const auto &file : QDir(kept).entryList(QDir::Files)) { // a damaged one is made anew
        QFile broken(kept + file);
        QVERIFY(broken.open(QFile::WriteOnly | QFile::Truncate) && broken.write("no picture") > 0);
    }
    Thumbnails again(m_document.get(), m_runner.get());
    QImage second;
    QTRY_VERIFY_WITH_TIMEOUT(!(second = again.of(row)).isNull(), 20000);
    QCOMPARE(second.size(), first.size());
    auto gone = row;
    gone.path = "nowhere.dng";
    gone.sha256 = std::string(64, 'a');
    QVERIFY(again.of(gone).isNull());
    QTest::qWait(300);
    QVERIFY(again.of(gone).isNull()); // and nothing else happens
}

static const wavechroma::testing::Registered<IntakeTest> registeredIntakeTest("intake_test");
#include "intake_test.moc"
