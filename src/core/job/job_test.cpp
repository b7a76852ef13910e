#include "core/job/job.h"
#include "support/registry.h"

#include <QTest>

using namespace wavechroma;

/// What serves a frame is kept until a change matters to it, and a copy is a job of its own.
class JobTest : public QObject
{
    Q_OBJECT
private slots:
    void answersAreKeptUntilAChangeMatters();
    void aCopyIsAJobOfItsOwn();
    void aLeanLeavesServingsAlone();
};

namespace {

JobState dayOf(int products)
{
    JobState out;
    out.setups = {JobSetup{1, "First", {}}};
    for (RowId id = 1; id <= products + 1; ++id) {
        JobFrame f;
        f.id = id;
        f.setup = 1;
        f.path = "f" + std::to_string(id) + ".dng";
        f.part = id == 1 ? FramePart::Chart : FramePart::Product;
        f.camera.model = "Tarn 2";
        f.camera.capturedAt = "2026-10-14T09:0" + std::to_string(id) + ":00";
        out.frames.push_back(f);
    }
    return out;
}

JobChange changed(const Job &job, RowId id, const std::function<void(JobFrame &)> &how)
{
    JobChange out;
    auto after = *job.rows().frame(id);
    how(after);
    out.frames.push_back({*job.rows().frame(id), after});
    return out;
}

} // namespace

void JobTest::answersAreKeptUntilAChangeMatters()
{
    Job job(dayOf(3), "/nowhere");
    const auto *first = &job.serving(2);
    QCOMPARE(first->chart, RowId(1));
    QCOMPARE(&job.serving(2), first); // the very same answer
    const auto picture = job.serves(*job.rows().frame(2));
    QCOMPARE(job.serves(*job.rows().frame(2)), picture);
    const auto before = job.revision();
    job.apply(changed(job, 1, [](JobFrame &f) { f.setAside = true; }));
    QCOMPARE(job.revision(), before + 1);
    QCOMPARE(job.serving(2).chart, RowId(0));
    QVERIFY(job.serves(*job.rows().frame(2)) != picture);
}

void JobTest::aLeanLeavesServingsAlone()
{
    Job job(dayOf(3), "/nowhere");
    const auto *kept = &job.serving(3);
    const auto lean = changed(job, 2, [](JobFrame &f) {
        f.levelThirds = 2;
        f.balance = Balance{};
    });
    QVERIFY(keepsServings(lean));
    const auto picture = job.serves(*job.rows().frame(2));
    job.apply(lean);
    QCOMPARE(&job.serving(3), kept);
    QVERIFY(job.serves(*job.rows().frame(2)) != picture); // though its picture is another one
    QCOMPARE(job.rows().frame(2)->levelThirds, 2);
    const auto byHand = changed(job, 2, [](JobFrame &f) { f.servedBy = 1; });
    QVERIFY(!keepsServings(byHand));
    JobChange added;
    added.frames.push_back({std::nullopt, *job.rows().frame(1)});
    QVERIFY(!keepsServings(added));
    JobChange probe;
    probe.probes.push_back({std::nullopt, JobProbe{10, 2, {"a", 5, 5, 2}}});
    QVERIFY(keepsServings(probe));
    QVERIFY(concerns(lean, 2) && !concerns(lean, 3) && concerns(byHand, 3));
    QVERIFY(concerns(probe, 2) && !concerns(probe, 3));
    JobChange delivery;
    delivery.deliveries.push_back({std::nullopt, JobDelivery{11, "Client", ""}});
    QVERIFY(!concerns(delivery, 2));
}

void JobTest::aCopyIsAJobOfItsOwn()
{
    Job job(dayOf(3), "/nowhere");
    (void)job.serving(2);
    const Job copy = job;
    QCOMPARE(copy.rows().frame(2), job.rows().frame(2)); // rows are shared until one is written to
    QVERIFY(job.stations().all().front() != copy.stations().all().front());
    job.apply(changed(job, 1, [](JobFrame &f) { f.setAside = true; }));
    JobChange renamed;
    renamed.setups.push_back({job.rows().setups.front(), JobSetup{1, "Second", {}}});
    job.apply(renamed);
    QVERIFY(copy.rows().frame(2) != job.rows().frame(2) && !copy.rows().frame(1)->setAside);
    QCOMPARE(copy.serving(2).chart, RowId(1));
    QCOMPARE(copy.stations().all().front()->name, std::string("First, Tarn 2"));
    QCOMPARE(copy.stations().of(2)->name, std::string("First, Tarn 2"));
    QCOMPARE(job.stations().of(2)->name, std::string("Second, Tarn 2"));
    QCOMPARE(job.serving(2).chart, RowId(0));
}

static const testing::Registered<JobTest> registeredJobTest("job_test");
#include "job_test.moc"
