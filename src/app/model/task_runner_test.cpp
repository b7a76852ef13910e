#include "app/model/task_runner.h"
#include "support/registry.h"

#include <QSignalSpy>
#include <QTest>
#include <atomic>
#include <chrono>
#include <thread>

using namespace wavechroma;
using namespace wavechroma::app;

class TaskRunnerTest : public QObject
{
    Q_OBJECT
private slots:
    void tasksOfOneQueueFollowEachOther();
    void queuesDoNotWaitForEachOther();
    void theNewestOvertakesWhatWaits();
    void aFaultIsAnError();
    void whatIsStoppedIsNotHandedOver();
    void resultsGoWithTheirJobAndTheirOwner();
    void finishHandsOverWhatIsUnderWay();
};

namespace {

/// Work that waits until it may go on, or is cancelled.
struct Gate
{
    std::atomic<bool> open = false, begun = false;
    std::function<Result<int>(const Progress &)> work(int result)
    {
        return [this, result](const Progress &progress) -> Result<int> {
            begun = true;
            while (!open && !progress.stopped())
                std::this_thread::sleep_for(std::chrono::milliseconds(1));
            return result;
        };
    }
};

std::function<Result<int>(const Progress &)> atOnce(int result)
{
    return [result](const Progress &) -> Result<int> { return result; };
}

} // namespace

void TaskRunnerTest::tasksOfOneQueueFollowEachOther()
{
    Gate gate; // outlives the runner, whose tasks look at it
    TaskRunner runner;
    QList<int> order;
    const auto keep = [&](const Result<int> &r) { order << *r; };
    QSignalSpy ended(&runner, &TaskRunner::ended);
    runner.run<int>({"q"}, gate.work(1), this, keep);
    runner.run<int>({"q"}, atOnce(2), this, keep);
    QVERIFY(runner.isBusy("q"));
    QTest::qWait(20);
    QVERIFY(order.isEmpty()); // the second waits for the first
    gate.open = true;
    QTRY_COMPARE(order, (QList<int>{1, 2}));
    QVERIFY(!runner.isBusy("q"));
    QCOMPARE(ended.count(), 1);
}

void TaskRunnerTest::queuesDoNotWaitForEachOther()
{
    Gate gate;
    TaskRunner runner;
    int seen = 0;
    runner.run<int>({"slow"}, gate.work(1), this, [](const auto &) {});
    runner.run<int>({"other"}, atOnce(2), this, [&](const Result<int> &r) { seen = *r; });
    QTRY_COMPARE(seen, 2);
    QVERIFY(runner.isBusy("slow"));
    gate.open = true;
}

void TaskRunnerTest::theNewestOvertakesWhatWaits()
{
    Gate gate;
    TaskRunner runner;
    QList<int> order;
    const auto keep = [&](const Result<int> &r) { order << *r; };
    runner.run<int>({"q"}, gate.work(1), this, keep);
    TaskSpec newest{"q"};
    newest.overtakes = true;
    for (int i = 2; i <= 5; ++i)
        runner.run<int>(newest, atOnce(i), this, keep);
    gate.open = true;
    QTRY_VERIFY(!runner.isBusy("q"));
    QCOMPARE(order.last(), 5);
    QVERIFY2(!order.contains(2) && !order.contains(4), "an older wish was still worked out");
}

void TaskRunnerTest::aFaultIsAnError()
{
    TaskRunner runner;
    std::string message;
    runner.run<int>(
        {"q"}, [](const Progress &) -> Result<int> { throw std::runtime_error("out of paper"); }, this,
        [&](const Result<int> &r) { message = r ? "" : r.error().message; });
    QTRY_VERIFY(message.find("out of paper") != std::string::npos);
}

void TaskRunnerTest::whatIsStoppedIsNotHandedOver()
{
    Gate gate;
    TaskRunner runner;
    int handed = 0;
    runner.run<int>({"q"}, gate.work(1), this, [&](const auto &) { ++handed; });
    runner.run<int>({"q"}, atOnce(2), this, [&](const auto &) { ++handed; });
    QTRY_VERIFY(gate.begun);
    runner.stop("q"); // the gate never opens: only the stop ends it
    QTRY_VERIFY(!runner.isBusy("q"));
    QTest::qWait(20);
    QCOMPARE(handed, 0);
    runner.run<int>({"q"}, atOnce(3), this, [&](const auto &) { ++handed; });
    QTRY_COMPARE(handed, 1); // and the queue goes on
}

void TaskRunnerTest::resultsGoWithTheirJobAndTheirOwner()
{
    Gate ofJob, ofProgram, unwanted, ofOwner;
    TaskRunner runner;
    QList<int> handed;
    const auto keep = [&](const Result<int> &r) { handed << *r; };
    runner.run<int>({"job"}, ofJob.work(1), this, keep);
    TaskSpec outlives{"program"};
    outlives.outlivesJob = true;
    runner.run<int>(outlives, ofProgram.work(2), this, keep);
    runner.jobChanged();
    ofProgram.open = true; // the first was cancelled, and needs no gate
    QTRY_VERIFY(!runner.isBusy("job") && !runner.isBusy("program"));
    QCOMPARE(handed, QList<int>{2});

    TaskSpec choosy{"q"};
    choosy.stillWanted = [] { return false; };
    runner.run<int>(choosy, unwanted.work(3), this, keep);
    auto owner = std::make_unique<QObject>();
    runner.run<int>({"r"}, ofOwner.work(4), owner.get(), keep);
    owner.reset();
    unwanted.open = ofOwner.open = true;
    QTRY_VERIFY(!runner.isBusy("q") && !runner.isBusy("r"));
    QCOMPARE(handed, QList<int>{2});
}

void TaskRunnerTest::finishHandsOverWhatIsUnderWay()
{
    TaskRunner runner;
    QList<int> handed;
    const auto keep = [&](const Result<int> &r) { handed << *r; };
    runner.run<int>({"q"}, atOnce(1), this, keep);
    runner.run<int>({"q"}, atOnce(2), this, keep);
    runner.finish("q");
    QCOMPARE(handed, (QList<int>{1, 2})); // without a turn of the event loop
}

static const wavechroma::testing::Registered<TaskRunnerTest> registeredTaskRunnerTest("task_runner_test");
#include "task_runner_test.moc"
