#include "app/model/intake.h"

#include <QDir>
#include <QFileInfo>
#include <QtConcurrent>

namespace wavechroma::app {

Intake::Intake(JobDocument *job, QObject *parent) : QObject(parent), m_job(job)
{
    connect(&m_watcher, &QFutureWatcherBase::finished, this, &Intake::done);
    connect(job, &JobDocument::opened, this, &Intake::stop);
}

Intake::~Intake()
{
    m_cancelled = true;
    m_watcher.waitForFinished();
}

QStringList Intake::framesIn(const QStringList &paths)
{
    // Only for what a folder holds: a file named by the user is tried whatever it is called.
    static const QStringList kKinds{"*.dng", "*.tif", "*.tiff", "*.png", "*.jpg", "*.jpeg", "*.nef",
                                    "*.cr2", "*.cr3", "*.arw",  "*.raf", "*.orf", "*.rw2",  "*.pef",
                                    "*.iiq", "*.3fr", "*.fff",  "*.srw", "*.x3f"};
    QStringList out;
    for (const auto &path : paths) {
        if (!QFileInfo(path).isDir()) {
            out << path;
            continue;
        }
        const QDir folder(path);
        for (const auto &name : folder.entryList(kKinds, QDir::Files, QDir::Name))
            out << folder.filePath(name);
    }
    return out;
}

void Intake::add(const QStringList &paths)
{
    if (!m_job->isOpen())
        return;
    const auto files = framesIn(paths);
    if (files.isEmpty()) {
        emit problem(tr("There are no frames in what was given."));
        return;
    }
    m_queue += files;
    m_total += int(files.size());
    if (m_running)
        return;
    m_running = true;
    m_cancelled = false;
    m_mergeKey = JobDocument::newMergeKey();
    next();
}

void Intake::stop()
{
    m_queue.clear();
    m_cancelled = true;
}

void Intake::next()
{
    if (m_queue.isEmpty() || m_cancelled || !m_job->isOpen()) {
        m_running = false;
        m_queue.clear();
        m_total = 0;
        emit finished();
        return;
    }
    m_current = m_queue.takeFirst();
    const double from = double(m_total - m_queue.size() - 1) / m_total, share = 1.0 / m_total;
    Progress progress;
    progress.cancelled = &m_cancelled;
    progress.report = [this, from, share](double fraction, std::string_view step) {
        const auto text = QString::fromUtf8(step.data(), qsizetype(step.size()));
        QMetaObject::invokeMethod(
            this, [=, this] { emit this->progress(from + share * fraction, text); }, Qt::QueuedConnection);
    };
    const auto around =
        surroundingsOf(m_job->state(), m_job->store()->folder()); // a copy: the thread may outlive the state
    m_watcher.setFuture(QtConcurrent::run(
        [around, file = m_current.toStdString(), progress] { return takeFrame(around, file, progress); }));
}

void Intake::done()
{
    if (m_cancelled) {
        next();
        return;
    }
    const auto taken = m_watcher.result();
    const auto &state = m_job->state();
    const auto isKnown = [&](const std::string &hash) {
        return std::any_of(state.frames.begin(), state.frames.end(),
                           [&](const auto &f) { return f.sha256 == hash; });
    };
    if (!taken) {
        emit problem(QString::fromStdString(taken.error().message));
    } else if (isKnown(taken->frame.sha256)) {
        emit problem(tr("%1 is in the job already.").arg(QFileInfo(m_current).fileName()));
    } else if (!state.setups.empty()) {
        const RowId id = nextId(state);
        const bool one = m_total == 1;
        m_job->push(one ? tr("Bring In %1").arg(QFileInfo(m_current).fileName()) : tr("Bring In Frames"),
                    changeFor(state, {*taken}), m_mergeKey);
        if (!taken->warning.empty())
            emit problem(QString::fromStdString(taken->warning));
        if (taken->pass && m_job->state().frame(id))
            emit chartArrived(id);
    }
    next();
}

} // namespace wavechroma::app
