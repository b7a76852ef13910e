#pragma once
#include "core/job/job.h"
#include "core/jobstore/job_store.h"

#include <QObject>
#include <QStringList>
#include <QUndoStack>

namespace wavechroma::app {

/// Owns the open job, its state in memory and the undo stack. Commands are the only writers: every change is
/// stored in one transaction before it shows. A signal says what changed, and who listens skips what does not
/// concern it.
class JobDocument : public QObject
{
    Q_OBJECT
public:
    explicit JobDocument(QObject *parent = nullptr);
    ~JobDocument() override;

    Result<Done> open(const QString &folder);
    Result<Done> create(const QString &folder, const QString &title);
    void close();

    [[nodiscard]] bool isOpen() const { return m_store != nullptr; }
    [[nodiscard]] bool isReadOnly() const { return m_store && m_store->isReadOnly(); }
    [[nodiscard]] const JobStore *store() const { return m_store.get(); }
    [[nodiscard]] const Job &job() const { return m_job; }
    [[nodiscard]] const JobState &state() const { return m_job.rows(); }
    [[nodiscard]] const Stations &stations() const { return m_job.stations(); }
    [[nodiscard]] QUndoStack *undoStack() { return &m_undo; }

    /// Does a change as one undoable step. Steps with the same key (not 0) that follow each other become one.
    void push(const QString &text, const JobChange &change, int mergeKey = 0);

    /// The frame that the bench shows; 0 when none. Not part of the job, so not undone.
    [[nodiscard]] RowId currentFrame() const { return m_current; }
    void setCurrentFrame(RowId frame);
    [[nodiscard]] static int newMergeKey();

    /// Files that were to be brought in and were not; kept in the job, so that they are offered again.
    [[nodiscard]] QStringList waiting() const;
    void setWaiting(const QStringList &files);

signals:
    void opened(); ///< another job, or none
    /// The job, by a command done or undone. After opened() too, with the title's row as new, which concerns
    /// everything.
    void changed(const JobChange &change);
    void currentFrameChanged();
    void failed(const QString &message);

private:
    friend class ChangeJob;
    bool apply(const JobChange &change);
    void take(std::unique_ptr<JobStore> store, JobState state);

    std::unique_ptr<JobStore> m_store;
    Job m_job;
    QUndoStack m_undo;
    RowId m_current = 0;
};

} // namespace wavechroma::app
