#include "app/model/task_runner.h"

#include "app/model/spoken.h"

#include <QMetaObject>

namespace wavechroma::app {

TaskRunner::TaskRunner(QObject *parent) : QObject(parent)
{
    // Queues run beside each other: opening a frame does not wait for a shoot that is being taken in.
    m_pool.setMaxThreadCount(std::max(8, QThread::idealThreadCount()));
}

TaskRunner::~TaskRunner()
{
    stopAll();
    m_pool.waitForDone();
}

void TaskRunner::start(const TaskSpec &spec, std::function<void(const Progress &)> work, QObject *context,
                       std::function<void()> deliver)
{
    auto task = std::make_shared<Task>();
    task->spec = spec;
    task->work = std::move(work);
    task->deliver = std::move(deliver);
    task->context = context;
    auto &queue = m_queues[spec.queue];
    if (spec.overtakes && queue.size() > 1)
        queue.erase(queue.begin() + 1, queue.end());
    queue.push_back(task);
    if (queue.size() == 1)
        launch(task);
}

void TaskRunner::launch(const std::shared_ptr<Task> &task)
{
    if (!task->spec.what.isEmpty())
        emit progressed(task->spec.queue, -1, task->spec.what);
    Progress progress;
    progress.cancelled = &task->cancelled;
    progress.report = [this, weak = std::weak_ptr<Task>(task)](double fraction, const words::Phrase &step) {
        const auto said = text(step);
        QMetaObject::invokeMethod(
            this,
            [this, weak, fraction, said] {
                const auto running = weak.lock();
                if (running && !running->isOver && !running->dropped && !running->spec.what.isEmpty())
                    emit progressed(running->spec.queue, fraction, said);
            },
            Qt::QueuedConnection);
    };
    m_pool.start([this, task, progress] {
        task->work(progress);
        task->worked.set_value();
        QMetaObject::invokeMethod(
            this, [this, task] { complete(task); }, Qt::QueuedConnection);
    });
}

/// Once for each task: from the event loop, or from finish() before that.
void TaskRunner::complete(const std::shared_ptr<Task> &task)
{
    if (std::exchange(task->isOver, true))
        return;
    const auto name = task->spec.queue;
    auto &queue = m_queues[name];
    if (!queue.empty() && queue.front() == task)
        queue.pop_front();
    const auto next = queue.empty() ? nullptr : queue.front();
    if (next)
        launch(next);
    const bool wanted =
        !task->dropped && task->context && (!task->spec.stillWanted || task->spec.stillWanted());
    if (!next)
        emit ended(name);
    if (wanted)
        task->deliver();
}

void TaskRunner::drop(Queue &queue)
{
    if (queue.empty())
        return;
    queue.front()->cancelled = true;
    queue.front()->dropped = true;
    queue.erase(queue.begin() + 1, queue.end());
}

void TaskRunner::stop(const QString &queue)
{
    if (const auto at = m_queues.find(queue); at != m_queues.end())
        drop(*at);
}

void TaskRunner::stopAll()
{
    for (auto &queue : m_queues)
        drop(queue);
}

bool TaskRunner::isBusy(const QString &queue) const
{
    const auto at = m_queues.find(queue);
    return at != m_queues.end() && !at->empty();
}

bool TaskRunner::isAwaited(const QString &queue) const
{
    const auto at = m_queues.find(queue);
    return at != m_queues.end() && (at->size() > 1 || (at->size() == 1 && !at->front()->dropped));
}

void TaskRunner::finish(const QString &queue)
{
    while (isBusy(queue)) {
        const auto running = m_queues[queue].front();
        running->whenWorked.wait();
        complete(running);
    }
}

void TaskRunner::jobChanged()
{
    for (auto &queue : m_queues)
        if (!queue.empty() && !queue.front()->spec.outlivesJob)
            drop(queue);
}

} // namespace wavechroma::app
