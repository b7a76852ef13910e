#include "app/model/change_job.h"

namespace wavechroma::app {

ChangeJob::ChangeJob(JobDocument *job, const QString &text, JobChange change, int mergeKey)
    : QUndoCommand(text), m_job(job), m_change(std::move(change)), m_mergeKey(mergeKey)
{
}

void ChangeJob::redo()
{
    if (!m_job->apply(m_change))
        setObsolete(true);
}

void ChangeJob::undo()
{
    if (!m_job->apply(reversed(m_change)))
        setObsolete(true);
}

bool ChangeJob::mergeWith(const QUndoCommand *newer)
{
    const auto *other = static_cast<const ChangeJob *>(newer);
    if (other->isObsolete())
        return false;
    m_change = merged(m_change, other->m_change);
    return true;
}

} // namespace wavechroma::app
