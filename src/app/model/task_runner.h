#pragma once
#include "core/base/lazy.h"
#include "core/base/progress.h"
#include "core/base/result.h"

#include <QHash>
#include <QObject>
#include <QPointer>
#include <QString>
#include <QThreadPool>
#include <deque>
#include <future>
#include <memory>

namespace wavechroma::app {

/// How a piece of long work is run.
struct TaskSpec
{
    QString queue;          ///< tasks of one queue run one after the other, those of others beside them
    QString what = {};      ///< shown while it runs; empty: it runs without a word
    bool overtakes = false; ///< takes the place of what waits in its queue
    bool outlivesJob =
        false; ///< is not about the open job, so that it is neither stopped nor dropped with it
    std::function<bool()> stillWanted = {}; ///< asked before the result is handed over; empty: always
};

/// The one owner of work that would hold up the window: named queues, progress, stop. An exception is an
/// error. Results are handed over in the interface thread, to a context that still lives, and are dropped
/// when the job they belong to was closed or they are no longer wanted.
class TaskRunner : public QObject
{
    Q_OBJECT
public:
    explicit TaskRunner(QObject *parent = nullptr);
    ~TaskRunner() override; ///< stops everything and waits

    template <class T>
    void run(const TaskSpec &spec, std::function<Result<T>(const Progress &)> work, QObject *context,
             std::function<void(const Result<T> &)> done)
    {
        auto result = std::make_shared<std::optional<Result<T>>>();
        auto doIt = [work = std::move(work), result](const Progress &progress) {
            try {
                result->emplace(work(progress));
            } catch (const Unreadable &damaged) {
                result->emplace(damaged.error);
            } catch (const std::exception &fault) {
                result->emplace(internalError("{why}", {{"why", fault.what()}}));
            } catch (...) {
                result->emplace(internalError("an unknown fault"));
            }
        };
        start(spec, std::move(doIt), context, [result, done = std::move(done)] { done(**result); });
    }

    void
    stop(const QString &queue); ///< what runs is told to stop, what waits is dropped; results of neither come
    void stopAll();
    [[nodiscard]] bool isBusy(const QString &queue) const; ///< something runs or waits in it
    [[nodiscard]] bool
    isAwaited(const QString &queue) const; ///< the result of something that runs or waits in it will come
    void finish(const QString &queue);     ///< waits for all of it and hands it over, before the job goes
    void jobChanged(); ///< what belongs to the job before is stopped, and its results are dropped

signals:
    void progressed(const QString &queue, double fraction,
                    const QString &step); ///< fraction below 0: not known
    void ended(const QString &queue);     ///< nothing runs or waits in it any more

private:
    struct Task
    {
        TaskSpec spec;
        std::function<void(const Progress &)> work;
        std::function<void()> deliver;
        QPointer<QObject> context;
        std::atomic<bool> cancelled = false;
        bool dropped = false, isOver = false;
        std::promise<void> worked;
        std::future<void> whenWorked = worked.get_future();
    };
    using Queue = std::deque<std::shared_ptr<Task>>;
    void start(const TaskSpec &spec, std::function<void(const Progress &)> work, QObject *context,
               std::function<void()> deliver);
    void launch(const std::shared_ptr<Task> &task);
    void complete(const std::shared_ptr<Task> &task);
    void drop(Queue &queue);

    QThreadPool m_pool;
    QHash<QString, Queue> m_queues; ///< the first one of each runs
};

} // namespace wavechroma::app
