#pragma once
#include "app/model/job_document.h"
#include "core/tasks/job_tasks.h"

#include <QFutureWatcher>
#include <QStringList>
#include <atomic>

namespace wavechroma::app {

/// Takes frame files into the open job, one after the other, off the interface thread: open, hash, look for a
/// chart, and for a chart frame all four stops. Each frame is stored as soon as it is done; one call of add()
/// is one undo step.
class Intake : public QObject
{
    Q_OBJECT
public:
    explicit Intake(JobDocument *job, QObject *parent = nullptr);
    ~Intake() override;

    /// Files, and folders (whose files of a known kind are taken). Files already in the job are passed over
    /// and named.
    void add(const QStringList &paths);
    void stop(); ///< what is done stays; the rest is dropped
    [[nodiscard]] bool isRunning() const { return m_running; }
    [[nodiscard]] static QStringList framesIn(const QStringList &paths); ///< with folders opened, sorted

signals:
    void progress(double fraction, const QString &step);
    void finished();
    void chartArrived(qint64 frame);      ///< stored, all stops passed or one stopped
    void problem(const QString &message); ///< names the file

private:
    void next();
    void done();

    JobDocument *m_job;
    QFutureWatcher<Result<TakenFrame>> m_watcher;
    QStringList m_queue;
    QString m_current;
    int m_total = 0, m_mergeKey = 0;
    bool m_running = false;
    std::atomic<bool> m_cancelled = false;
};

} // namespace wavechroma::app
