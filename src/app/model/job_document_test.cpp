#include "../tests/support/full_disk.h"
#include "app/model/change_job.h"
#include "app/model/intake.h"
#include "core/words/answer_words.h"
#include "support/registry.h"

#include <QDir>
#include <QFile>
#include <QSignalSpy>
#include <QTemporaryDir>
#include <QTest>
#include <memory>

using namespace wavechroma;
using namespace wavechroma::app;

class JobDocumentTest : public QObject
{
    Q_OBJECT
private slots:
    void aCommandGoesBothWaysAndIsStored();
    void stepsOfOneDragAreOneStep();
    void aChangeThatCannotBeStoredNeverHappened();
    void stationsAreKeptUp();
    void foldersAreOpenedForTheirFrames();
};

namespace {

JobFrame frame(RowId id, const std::string &model, const std::string &time,
               FramePart part = FramePart::Product, RowId setup = 1)
{
    JobFrame f;
    f.id = id;
    f.setup = setup;
    f.path = "f" + std::to_string(id);
    f.camera.model = model;
    f.camera.capturedAt = time;
    f.part = part;
    return f;
}

JobChange adding(const JobFrame &f)
{
    JobChange change;
    change.frames.push_back({std::nullopt, f});
    return change;
}

} // namespace

void JobDocumentTest::aCommandGoesBothWaysAndIsStored()
{
    QTemporaryDir folder;
    JobDocument job;
    QVERIFY(bool(job.create(folder.filePath("job"), "Job")));
    const auto before = job.state();
    QSignalSpy changed(&job, &JobDocument::changed);
    job.push("Add", adding(frame(2, "Tarn 2", "2026-10-14T09:00:00")));
    const auto after = job.state();
    QCOMPARE(after.frames.size(), size_t(1));
    job.undoStack()->undo();
    QCOMPARE(job.state(), before);
    job.undoStack()->redo();
    QCOMPARE(job.state(), after);
    QCOMPARE(changed.count(), 3);
    QCOMPARE(*job.store()->load(), after);
    job.setCurrentFrame(2);
    job.undoStack()->undo(); // what is on the bench goes with its frame
    QCOMPARE(job.currentFrame(), RowId(0));
}

void JobDocumentTest::stepsOfOneDragAreOneStep()
{
    QTemporaryDir folder;
    JobDocument job;
    QVERIFY(bool(job.create(folder.filePath("job"), "Job")));
    const auto before = job.state();
    const int key = JobDocument::newMergeKey();
    auto f = frame(2, "Tarn 2", "t");
    job.push("Add", adding(f), key);
    for (int i = 1; i < 5; ++i) {
        JobChange change;
        auto next = f;
        next.width = i;
        change.frames.push_back({f, next});
        job.push("Move", change, key);
        f = next;
    }
    QCOMPARE(job.undoStack()->count(), 1);
    QCOMPARE(job.state().frame(2)->width, 4);
    job.undoStack()->undo();
    QCOMPARE(job.state(), before);
    job.undoStack()->redo();
    job.push("Other", adding(frame(3, "Tarn 2", "t")), JobDocument::newMergeKey());
    QCOMPARE(job.undoStack()->count(), 2);
    job.push("Nothing", {});
    QCOMPARE(job.undoStack()->count(), 2);
}

void JobDocumentTest::aChangeThatCannotBeStoredNeverHappened()
{
    QTemporaryDir folder;
    JobDocument job;
    QVERIFY(bool(job.create(folder.filePath("job"), "Job")));
    const auto before = job.state();
    QSignalSpy failed(&job, &JobDocument::failed);
    auto full = std::make_unique<wavechroma::testing::FullDisk>(100000);
    auto huge = frame(2, "Tarn 2", "t");
    huge.path.assign(400000, 'x');
    job.push("Add", adding(huge));
    full.reset();
    QCOMPARE(failed.count(), 1);
    QVERIFY(failed.first().first().toString().contains("disk"));
    QCOMPARE(job.state(), before);
    QCOMPARE(job.undoStack()->count(), 0);
    job.push("Add", adding(frame(2, "Tarn 2", "t")));
    QCOMPARE(job.undoStack()->count(), 1);
}

void JobDocumentTest::stationsAreKeptUp()
{
    QTemporaryDir folder;
    JobDocument job;
    QVERIFY(bool(job.create(folder.filePath("job"), "Job")));
    const auto setup = job.state().setups.front().id;
    job.push("Add", adding(frame(3, "Tarn 2", "2026-10-14T10:00:00", FramePart::Product, setup)));
    job.push("Add", adding(frame(4, "Marram 8", "2026-10-14T09:30:00", FramePart::Product, setup)));
    job.push("Add", adding(frame(5, "Tarn 2", "2026-10-14T09:00:00", FramePart::Chart, setup)));
    QCOMPARE(job.stations().all().size(), size_t(2));
    QCOMPARE(job.stations().all()[0]->frames, (std::vector<RowId>{5, 3})); // by time, not by arrival
    QCOMPARE(words::reason(job.stations().all()[1]->answer), std::string("1 frame has no chart"));
    job.undoStack()->undo();
    QCOMPARE(job.stations().all()[0]->frames, std::vector<RowId>{3});
    QCOMPARE(job.stations().all()[1]->frames, std::vector<RowId>{4});
    JobDocument again; // the same after opening anew
    QVERIFY(bool(again.open(folder.filePath("job"))));
    QCOMPARE(again.stations().all().size(), size_t(2));
    QVERIFY(*again.stations().all()[1] == *job.stations().all()[1]);
}

void JobDocumentTest::foldersAreOpenedForTheirFrames()
{
    QTemporaryDir folder;
    for (const char *name : {"b.dng", "a.DNG", "notes.txt"}) {
        QFile file(folder.filePath(name));
        QVERIFY(file.open(QIODevice::WriteOnly));
    }
    QCOMPARE(framesIn({folder.path().toStdString()}),
             (std::vector<std::filesystem::path>{folder.filePath("a.DNG").toStdString(),
                                                 folder.filePath("b.dng").toStdString()}));
    QCOMPARE(framesIn({"named.weird"}),
             std::vector<std::filesystem::path>{"named.weird"}); // a file named by the user is always tried
}

static const testing::Registered<JobDocumentTest> registeredJobDocumentTest("job_document_test");
#include "job_document_test.moc"
