#include "app/model/folder_watch.h"

#include "app/model/intake.h"
#include "core/tasks/take_task.h"

#include <QDateTime>
#include <QFileInfo>

namespace wavechroma::app {

FolderWatch::FolderWatch(JobDocument *job, QObject *parent) : QObject(parent)
{
    m_timer.setInterval(500);
    connect(&m_timer, &QTimer::timeout, this, &FolderWatch::look);
    connect(job, &JobDocument::opened, this, &FolderWatch::stop);
}

void FolderWatch::start(const QString &folder)
{
    m_folder = folder;
    m_taken = m_seen = stamps();
    m_short.clear();
    m_timer.start();
}

void FolderWatch::stop()
{
    m_timer.stop();
    m_folder.clear();
}

QHash<QString, FolderWatch::Stamp> FolderWatch::stamps() const
{
    QHash<QString, Stamp> out;
    for (const auto &file : Intake::framesIn({m_folder})) {
        const QFileInfo info(file);
        out.insert(file, {info.size(), info.lastModified().toMSecsSinceEpoch()});
    }
    return out;
}

bool FolderWatch::isWhole(const QString &file)
{
    constexpr int kMostLooks = 60; // half a minute
    if (extentOf(file.toStdString()) == Extent::Short && ++m_short[file] < kMostLooks)
        return false;
    m_short.remove(file);
    return true;
}

void FolderWatch::look()
{
    if (!QFileInfo(m_folder).isDir()) {
        emit problem(tr("The watched folder %1 no longer exists. Frames are no longer added automatically.")
                         .arg(m_folder));
        stop();
        return;
    }
    const auto now = stamps();
    QStringList whole;
    for (auto at = now.begin(); at != now.end(); ++at) {
        const bool settled = at->size > 0 && m_seen.contains(at.key()) && m_seen[at.key()] == *at;
        if (!settled)
            m_short.remove(at.key());
        if (settled && (!m_taken.contains(at.key()) || !(m_taken[at.key()] == *at)) && isWhole(at.key())) {
            m_taken.insert(at.key(), *at);
            whole << at.key();
        }
    }
    m_seen = now;
    whole.sort();
    if (!whole.isEmpty())
        emit arrived(whole);
}

} // namespace wavechroma::app
