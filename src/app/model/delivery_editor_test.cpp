#include "app/model/delivery_editor.h"
#include "core/formats/whole_file.h"
#include "support/demo_day.h"
#include "support/full_disk.h"
#include "support/registry.h"

#include <QDir>
#include <QDirIterator>
#include <QFile>
#include <QImage>
#include <QSettings>
#include <QSignalSpy>
#include <QTemporaryDir>
#include <QTest>
#include <set>

using namespace wavechroma;
using namespace wavechroma::app;

/// What leaves the job, without a widget: asked for in steps that are undone whole, planned by itself,
/// written as the command line would.
class DeliveryEditorTest : public QObject
{
    Q_OBJECT
private slots:
    void initTestCase();
    void init();
    void cleanup();
    void thereIsAlwaysOne();
    void framesLeaveOrStay();
    void formsAndNamesAreSteps();
    void deliveriesLieBesideEachOther();
    void thePlanFollowsTheJob();
    void aNameThatCannotBeIsTold();
    void namesThatAreSharedAreMarked();
    void itWritesOnceAndGoesOn();
    void whatIsStaleIsWrittenByItselfWhereAsked();
    void pausedItWritesNothingMore();
    void aFullDiskIsTold();
    void withoutAJobNothingHappens();

private:
    RowId frameCalled(const char *name) const
    {
        for (const auto &frame : m_document->state().frames)
            if (frame.path.find(name) != std::string::npos)
                return frame.id;
        return 0;
    }
    /// Small pictures alone, so that they are there soon.
    void askForSmallPictures()
    {
        DeliveryForm small{"small"};
        small.picture.format = PictureFormat::Jpeg;
        small.picture.longSide = 120;
        m_delivery->setForms({small}, "small");
    }
    QStringList written() const
    {
        QStringList out;
        for (QDirIterator i(m_delivery->folder(), QDir::Files, QDirIterator::Subdirectories); i.hasNext();)
            out << QFileInfo(i.next()).fileName();
        out.sort();
        return out;
    }
    QTemporaryDir m_place;
    std::unique_ptr<TaskRunner> m_runner;
    std::unique_ptr<JobDocument> m_document;
    std::unique_ptr<DeliveryEditor> m_delivery;
    int m_round = 0;
};

void DeliveryEditorTest::initTestCase()
{
    QSettings::setPath(QSettings::NativeFormat, QSettings::UserScope, m_place.path());
    testing::layDemoDay(m_place.filePath("demo").toStdString());
}

void DeliveryEditorTest::init()
{
    m_runner = std::make_unique<TaskRunner>();
    m_document = std::make_unique<JobDocument>();
    m_delivery = std::make_unique<DeliveryEditor>(m_document.get(), m_runner.get());
    QVERIFY(bool(m_document->open(m_place.filePath("demo"))));
    m_delivery->setFolder(m_place.filePath(QString("out%1").arg(++m_round)));
}

void DeliveryEditorTest::cleanup()
{
    m_runner->stopAll();
    while (m_document->isOpen() && m_document->undoStack()->canUndo())
        m_document->undoStack()->undo();
    m_delivery.reset();
    m_document.reset();
    m_runner.reset();
}

void DeliveryEditorTest::thereIsAlwaysOne()
{
    QCOMPARE(m_delivery->titles().size(), 1);
    QVERIFY(m_delivery->asked().forms == usualForms());
    QVERIFY(m_document->state().deliveries.empty()); // not kept before something is asked for
    QCOMPARE(m_delivery->products().size(), size_t(8));
    for (const auto id : m_delivery->products())
        QVERIFY(m_delivery->leaves(id));
    QVERIFY(!m_delivery->leaves(99999));
    m_delivery->setFolder("");
    QVERIFY2(m_delivery->folder().endsWith("handover/First_delivery"), qPrintable(m_delivery->folder()));
}

void DeliveryEditorTest::framesLeaveOrStay()
{
    const std::vector<RowId> two{frameCalled("0417"), frameCalled("MB_0052")};
    m_delivery->setLeaving(two, false);
    QVERIFY(!m_delivery->leaves(two[0]) && !m_delivery->leaves(two[1]) &&
            m_delivery->leaves(frameCalled("0416")));
    QCOMPARE(m_delivery->asked().without.size(), size_t(2));
    const auto steps = m_document->undoStack()->count();
    m_delivery->setLeaving(two, false); // so it is
    QCOMPARE(m_document->undoStack()->count(), steps);
    m_delivery->setLeaving({two[0]}, true);
    QVERIFY(m_delivery->leaves(two[0]) && !m_delivery->leaves(two[1]));
    m_document->undoStack()->undo();
    QVERIFY(!m_delivery->leaves(two[0]));
    m_document->undoStack()->undo();
    QVERIFY(m_delivery->leaves(two[1]) && m_document->state().deliveries.empty());
}

void DeliveryEditorTest::formsAndNamesAreSteps()
{
    askForSmallPictures();
    QCOMPARE(m_delivery->asked().forms.size(), size_t(1));
    QCOMPARE(m_delivery->asked().forms[0].picture.longSide.value_or(0), 120);
    m_delivery->setNames("  {camera}-{frame} ");
    QCOMPARE(m_delivery->asked().names, std::string("{camera}-{frame}"));
    const auto steps = m_document->undoStack()->count();
    m_delivery->setNames("{camera}-{frame}");
    QCOMPARE(m_document->undoStack()->count(), steps);
    m_document->undoStack()->undo();
    m_document->undoStack()->undo();
    QVERIFY(m_delivery->asked().forms == usualForms() && m_delivery->asked().names.empty());
}

void DeliveryEditorTest::deliveriesLieBesideEachOther()
{
    askForSmallPictures();
    m_delivery->add("  For the printer ");
    QCOMPARE(m_delivery->titles(), (QStringList{"First delivery", "For the printer"}));
    QCOMPARE(m_delivery->current(), 1);
    QCOMPARE(m_delivery->asked().forms[0].name, std::string("small")); // begins with those of the one before
    m_delivery->setForms(usualForms(), "usual");
    m_delivery->open(0);
    QCOMPARE(m_delivery->asked().forms[0].name, std::string("small"));
    m_delivery->open(1);
    QVERIFY(m_delivery->asked().forms == usualForms());
    m_delivery->add("   ");
    QCOMPARE(m_delivery->titles().size(), 2);
    m_document->undoStack()->undo(); // the forms
    m_document->undoStack()->undo(); // the delivery, while it is open
    QCOMPARE(m_delivery->current(), 0);
    QCOMPARE(m_delivery->titles().size(), 1);
    m_delivery->open(7);
    QCOMPARE(m_delivery->current(), 0);
}

void DeliveryEditorTest::thePlanFollowsTheJob()
{
    askForSmallPictures();
    QVERIFY(m_delivery->plan().items.empty()); // nobody looks
    m_delivery->setWatched(true);
    QTRY_COMPARE(m_delivery->plan().items.size(), size_t(8));
    m_delivery->setLeaving({frameCalled("0416")}, false);
    QTRY_COMPARE(m_delivery->plan().items.size(), size_t(7));
    JobChange change; // spoilt on the bench meanwhile
    auto row = *m_document->state().frame(frameCalled("0417"));
    change.frames.push_back({row, row});
    change.frames[0].after->setAside = true;
    m_document->push("aside", change);
    QTRY_COMPARE(m_delivery->plan().items.size(), size_t(6));
    m_delivery->setWatched(false);
    m_document->undoStack()->undo();
    QTest::qWait(100);
    QCOMPARE(m_delivery->plan().items.size(), size_t(6));
}

void DeliveryEditorTest::aNameThatCannotBeIsTold()
{
    askForSmallPictures();
    m_delivery->setWatched(true);
    QTRY_COMPARE(m_delivery->plan().items.size(), size_t(8));
    m_delivery->setNames("{weather}");
    QTRY_VERIFY2(m_delivery->planFault().contains("weather"), qPrintable(m_delivery->planFault()));
    QVERIFY(m_delivery->plan().items.empty());
    m_delivery->setNames("{frame}");
    QTRY_VERIFY(m_delivery->planFault().isEmpty() && m_delivery->plan().items.size() == 8);
}

void DeliveryEditorTest::namesThatAreSharedAreMarked()
{
    askForSmallPictures();
    m_delivery->setWatched(true);
    QTRY_COMPARE(m_delivery->plan().items.size(), size_t(8));
    QVERIFY(m_delivery->plan().sharingNames().empty());
    m_delivery->setNames("{camera}");
    QTRY_COMPARE(m_delivery->plan().sharingNames().size(), size_t(8)); // six of one body, two of the other
    std::set<std::string> paths;
    for (const auto &item : m_delivery->plan().items)
        paths.insert(item.planned.path);
    QCOMPARE(paths.size(), size_t(8)); // numbered
    QVERIFY(paths.count("Tarn_2.jpg") && paths.count("Tarn_2-6.jpg"));
    m_delivery->setNames("{camera} {frame}");
    QTRY_VERIFY(m_delivery->plan().sharingNames().empty() && m_delivery->plan().items.size() == 8);
}

void DeliveryEditorTest::itWritesOnceAndGoesOn()
{
    QSignalSpy done(m_delivery.get(), &DeliveryEditor::finished);
    askForSmallPictures();
    m_delivery->write();
    QVERIFY(m_delivery->isWriting());
    m_delivery->write(); // it is at it
    QTRY_COMPARE_WITH_TIMEOUT(done.count(), 1, 60000);
    QVERIFY2(done[0][1].toBool() && done[0][0].toString().startsWith("8 files are written"),
             qPrintable(done[0][0].toString()));
    const auto files = written();
    QCOMPARE(files.size(), 9); // and delivery.json
    QVERIFY(files.contains("HR_0416.jpg"));
    const auto stampOf = [&](const QString &file) {
        return QFileInfo(m_delivery->folder() + "/" + file).lastModified();
    };
    const auto kept = stampOf("HR_0416.jpg"), gone = stampOf("HR_0417.jpg");
    QVERIFY(QFile::remove(m_delivery->folder() + "/HR_0417.jpg"));
    QTest::qWait(30);
    m_delivery->write();
    QTRY_COMPARE_WITH_TIMEOUT(done.count(), 2, 60000);
    QCOMPARE(written(), files);
    QCOMPARE(stampOf("HR_0416.jpg"), kept);
    QVERIFY(stampOf("HR_0417.jpg") > gone);
}

void DeliveryEditorTest::whatIsStaleIsWrittenByItselfWhereAsked()
{
    constexpr int kLongerThanQuiet = 3500;
    QSignalSpy done(m_delivery.get(), &DeliveryEditor::finished);
    m_delivery->setWritesItself(true);
    askForSmallPictures();
    QTest::qWait(kLongerThanQuiet);
    QVERIFY(done.isEmpty() && written().isEmpty()); // nobody has begun it
    m_delivery->setWritesItself(false);
    m_delivery->write();
    QTRY_COMPARE_WITH_TIMEOUT(done.count(), 1, 60000);
    const auto larger = [&](int longSide) {
        auto forms = m_delivery->asked().forms;
        forms[0].picture.longSide = longSide;
        m_delivery->setForms(forms, "larger");
    };
    larger(140);
    QTest::qWait(kLongerThanQuiet);
    QCOMPARE(done.count(), 1); // not switched on
    m_delivery->setWritesItself(true);
    QTRY_COMPARE_WITH_TIMEOUT(done.count(), 2, 60000);
    larger(160);
    QTRY_COMPARE_WITH_TIMEOUT(done.count(), 3, 60000);
    QVERIFY2(done[2][1].toBool(), qPrintable(done[2][0].toString()));
    const QImage picture(m_delivery->folder() + "/HR_0416.jpg");
    QCOMPARE(std::max(picture.width(), picture.height()), 160);
    QTest::qWait(kLongerThanQuiet);
    QCOMPARE(done.count(), 3);
    m_delivery->setWritesItself(false);
}

void DeliveryEditorTest::pausedItWritesNothingMore()
{
    QSignalSpy done(m_delivery.get(), &DeliveryEditor::finished),
        told(m_delivery.get(), &DeliveryEditor::progressed);
    m_delivery->setForms(usualForms(), "usual");
    m_delivery->write();
    QTRY_VERIFY_WITH_TIMEOUT(told.count() > 0, 60000);
    m_delivery->pause(true);
    QVERIFY(m_delivery->isPaused());
    QTest::qWait(400); // what was begun
    const auto before = written();
    QTest::qWait(400);
    QCOMPARE(written(), before);
    QVERIFY(m_delivery->isWriting() && done.isEmpty());
    m_delivery->stop();
    QVERIFY(!m_delivery->isPaused());
    QCOMPARE(done.count(), 1);
    QTRY_VERIFY_WITH_TIMEOUT(!m_delivery->isWriting(), 60000);
    for (const auto &file : written())
        QVERIFY2(!file.contains(".part") && !file.startsWith('.'), qPrintable(file)); // nothing half
    m_delivery->write();
    QTRY_COMPARE_WITH_TIMEOUT(done.count(), 2, 120000);
    QVERIFY2(done[1][1].toBool(), qPrintable(done[1][0].toString()));
    QVERIFY(written().size() > before.size());
}

void DeliveryEditorTest::aFullDiskIsTold()
{
    QSignalSpy done(m_delivery.get(), &DeliveryEditor::finished);
    askForSmallPictures();
    {
        const wavechroma::testing::FullDisk full(3000);
        m_delivery->write();
        QTRY_COMPARE_WITH_TIMEOUT(done.count(), 1, 60000);
    }
    QVERIFY(!done[0][1].toBool());
    QVERIFY(!done[0][0].toString().isEmpty());
    for (const auto &file : written())
        QVERIFY2(file == "delivery.json", qPrintable(file));
    m_delivery->write(); // there is room again
    QTRY_COMPARE_WITH_TIMEOUT(done.count(), 2, 60000);
    QVERIFY2(done[1][1].toBool(), qPrintable(done[1][0].toString()));
    QCOMPARE(written().size(), 9);
}

void DeliveryEditorTest::withoutAJobNothingHappens()
{
    TaskRunner runner;
    JobDocument none;
    DeliveryEditor delivery(&none, &runner);
    delivery.add("x");
    delivery.setNames("{frame}");
    delivery.setForms({}, "none");
    delivery.write();
    QVERIFY(!delivery.isWriting() && delivery.folder().isEmpty());
    QVERIFY(none.state().deliveries.empty());
}

static const wavechroma::testing::Registered<DeliveryEditorTest>
    registeredDeliveryEditorTest("delivery_editor_test");
#include "delivery_editor_test.moc"
