#pragma once
#include "app/model/job_document.h"

#include <QUndoCommand>

namespace wavechroma::app {

/// Any change of the job as an undoable step. When the store refuses (a full disk, say) the step never
/// happened: the document says why and the command drops out of the stack.
class ChangeJob final : public QUndoCommand
{
public:
    ChangeJob(JobDocument *job, const QString &text, JobChange change, int mergeKey);
    void redo() override;
    void undo() override;
    int id() const override { return m_mergeKey ? m_mergeKey : -1; }
    bool mergeWith(const QUndoCommand *newer) override;

private:
    JobDocument *m_job;
    JobChange m_change;
    int m_mergeKey;
};

} // namespace wavechroma::app
