#include "app/model/job_document.h"

#include "app/model/change_job.h"
#include "app/model/spoken.h"

namespace wavechroma::app {

JobDocument::JobDocument(QObject *parent) : QObject(parent) {}
JobDocument::~JobDocument() = default;

Result<Done> JobDocument::open(const QString &folder)
{
    auto store = JobStore::open(folder.toStdString());
    if (!store)
        return store.error();
    auto state = (*store)->load();
    if (!state)
        return state.error();
    take(std::move(*store), std::move(*state));
    return Done{};
}

Result<Done> JobDocument::create(const QString &folder, const QString &title)
{
    auto store = JobStore::create(folder.toStdString(), title.toStdString());
    if (!store)
        return store.error();
    auto state = (*store)->load();
    if (!state)
        return state.error();
    take(std::move(*store), std::move(*state));
    return Done{};
}

void JobDocument::close()
{
    take(nullptr, {});
}

void JobDocument::take(std::unique_ptr<JobStore> store, JobState state)
{
    m_undo.clear();
    m_store = std::move(store);
    m_job = Job(std::move(state), m_store ? m_store->folder() : std::filesystem::path());
    m_current = 0;
    emit opened();
    JobChange everything;
    everything.titles.push_back({std::nullopt, m_job.rows().title});
    emit changed(everything);
    emit currentFrameChanged();
}

void JobDocument::push(const QString &text, const JobChange &change, int mergeKey)
{
    if (!m_store || change.isEmpty())
        return;
    m_undo.push(new ChangeJob(this, text, change, mergeKey));
}

bool JobDocument::apply(const JobChange &change)
{
    const auto stored = m_store->apply(change);
    if (!stored) {
        emit failed(text(stored.error()));
        return false;
    }
    m_job.apply(change);
    if (m_current && !state().frame(m_current)) {
        m_current = 0;
        emit currentFrameChanged();
    }
    emit changed(change);
    return true;
}

void JobDocument::setCurrentFrame(RowId frame)
{
    if (frame == m_current)
        return;
    m_current = frame;
    emit currentFrameChanged();
}

int JobDocument::newMergeKey()
{
    static int last = 0;
    return ++last;
}

QStringList JobDocument::waiting() const
{
    QStringList out;
    const auto files = m_store ? m_store->waiting() : Result<std::vector<std::string>>(unusable(""));
    if (files)
        for (const auto &file : *files)
            out << QString::fromStdString(file);
    return out;
}

void JobDocument::setWaiting(const QStringList &files)
{
    if (!m_store || m_store->isReadOnly())
        return;
    std::vector<std::string> all;
    for (const auto &file : files)
        all.push_back(file.toStdString());
    if (const auto kept = m_store->setWaiting(all); !kept)
        emit failed(text(kept.error()));
}

} // namespace wavechroma::app
