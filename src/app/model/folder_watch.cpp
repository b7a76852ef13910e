#include "app/model/folder_watch.h"

#include "app/model/intake.h"
#include "core/tasks/take_task.h"

#include <QDateTime>
#include <QFileInfo>

namespace wavechroma::app {

static const QString kWatchQueue = "folder watch";

FolderWatch::FolderWatch(JobDocument *job, TaskRunner *tasks, QObject *parent)
    : QObject(parent), m_tasks(tasks)
{
    m_timer.setInterval(500);
    connect(&m_timer, &QTimer::timeout, this, &FolderWatch::look);
    connect(job, &JobDocument::opened, this, &FolderWatch::stop);
}

void FolderWatch::start(const QString &folder)
{
    m_folder = folder;
    ++m_round;
    constexpr qint64 kCoarse = 50; // ms that the clock of a file system may be behind
    m_since = QDateTime::currentMSecsSinceEpoch() - kCoarse;
    m_isFirst = true;
    m_taken.clear();
    m_seen.clear();
    m_short.clear();
    m_timer.start();
    look();
}

void FolderWatch::stop()
{
    m_timer.stop();
    m_folder.clear();
    ++m_round;
}

FolderWatch::Stamps FolderWatch::stampsIn(const QString &folder)
{
    Stamps out;
    for (const auto &file : Intake::framesIn({folder})) {
        const QFileInfo info(file);
        out.insert(file, {info.size(), info.lastModified().toMSecsSinceEpoch()});
    }
    return out;
}

bool FolderWatch::isAt(const Stamps &stamps, const QString &file, const Stamp &stamp)
{
    const auto at = stamps.constFind(file);
    return at != stamps.constEnd() && *at == stamp;
}

FolderWatch::Look FolderWatch::lookAt(const QString &folder, const Stamps &seen, const Stamps &taken)
{
    Look out{QFileInfo(folder).isDir(), stampsIn(folder), {}};
    for (auto at = out.stamps.constBegin(); at != out.stamps.constEnd(); ++at) {
        const bool rests = at->size > 0 && isAt(seen, at.key(), *at) && !isAt(taken, at.key(), *at);
        if (rests && extentOf(at.key().toStdString()) == Extent::Short)
            out.shortFiles.insert(at.key());
    }
    return out;
}

bool FolderWatch::isWhole(const QString &file, const Look &look)
{
    constexpr int kMostLooks = 60; // half a minute
    if (look.shortFiles.contains(file) && ++m_short[file] < kMostLooks)
        return false;
    m_short.remove(file);
    return true;
}

/// One look at a time: a slow folder is looked at more seldom.
void FolderWatch::look()
{
    if (m_tasks->isBusy(kWatchQueue))
        return;
    TaskSpec spec{kWatchQueue};
    spec.stillWanted = [this, round = m_round] { return round == m_round; };
    m_tasks->run<Look>(
        spec,
        [folder = m_folder, seen = m_seen, taken = m_taken](const Progress &) -> Result<Look> {
            return lookAt(folder, seen, taken);
        },
        this,
        [this](const Result<Look> &look) {
            if (look)
                take(*look);
        });
}

void FolderWatch::take(const Look &look)
{
    if (!look.isThere) {
        emit problem(tr("The watched folder %1 no longer exists. Frames are no longer added automatically.")
                         .arg(m_folder));
        stop();
        return;
    }
    if (std::exchange(m_isFirst, false)) { // what lay there before is left alone
        for (auto at = look.stamps.constBegin(); at != look.stamps.constEnd(); ++at)
            if (at->modified < m_since)
                m_taken.insert(at.key(), *at);
    }
    QStringList whole;
    for (auto at = look.stamps.constBegin(); at != look.stamps.constEnd(); ++at) {
        const bool settled = at->size > 0 && isAt(m_seen, at.key(), *at);
        if (!settled)
            m_short.remove(at.key());
        if (settled && !isAt(m_taken, at.key(), *at) && isWhole(at.key(), look)) {
            m_taken.insert(at.key(), *at);
            whole << at.key();
        }
    }
    m_seen = look.stamps;
    whole.sort();
    if (!whole.isEmpty())
        emit arrived(whole);
}

} // namespace wavechroma::app
