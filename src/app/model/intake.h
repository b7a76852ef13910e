#pragma once
#include "app/model/job_document.h"
#include "app/model/task_runner.h"
#include "core/tasks/job_task.h"

#include <QStringList>

namespace wavechroma::app {

/// Takes frame files into the open job, one after the other, off the interface thread: open, hash, look for a
/// chart, and for a chart frame all four stops. Each frame is stored as soon as it is done; one call of add()
/// is one undo step. Files that wait are kept in the job: after a stop, or a job closed in the middle, they
/// are offered again.
class Intake : public QObject
{
    Q_OBJECT
public:
    Intake(JobDocument *job, TaskRunner *tasks, QObject *parent = nullptr);

    /// Files, and folders (whose files of a known kind are taken). Files already in the job are passed over
    /// and named.
    void add(const QStringList &paths);
    void stop();       ///< what is done stays, what waits is kept
    void addWaiting(); ///< those that wait since a stop
    [[nodiscard]] QStringList waiting() const { return m_waiting; } ///< not while it runs
    [[nodiscard]] bool isRunning() const { return !m_current.isEmpty(); }
    [[nodiscard]] static QStringList framesIn(const QStringList &paths); ///< with folders opened, sorted

signals:
    void progress(double fraction, const QString &step);
    void finished();
    void chartArrived(qint64 frame);      ///< stored, all stops passed or one stopped
    void problem(const QString &message); ///< names the file
    void waitingChanged();

private:
    void next();
    void take(const Result<TakenFrame> &taken);
    void end();
    void keepWaiting(const QStringList &files);

    JobDocument *m_job;
    TaskRunner *m_tasks;
    QStringList m_queue, m_waiting;
    QString m_current;
    int m_total = 0, m_mergeKey = 0;
};

} // namespace wavechroma::app
