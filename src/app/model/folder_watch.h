#pragma once
#include "app/model/job_document.h"

#include <QHash>
#include <QSet>
#include <QTimer>

namespace wavechroma::app {

/// Watches a folder that a tethering program fills. A file is taken when it has a frame's name and has kept
/// its size and time for two looks half a second apart, so that slow copies and renames from a temporary name
/// are whole. What lay there before is left alone; a file that is written anew under the same name is taken
/// again. Polling rather than file system events, which network folders do not send.
class FolderWatch : public QObject
{
    Q_OBJECT
public:
    explicit FolderWatch(JobDocument *job, QObject *parent = nullptr);
    void start(const QString &folder);
    void stop();
    [[nodiscard]] bool isWatching() const { return !m_folder.isEmpty(); }
    [[nodiscard]] QString folder() const { return m_folder; }

signals:
    void arrived(const QStringList &files);
    void problem(const QString &message);

private:
    void look();
    /// What tells one state of a file from another.
    struct Stamp
    {
        qint64 size = 0, modified = 0;
        bool operator==(const Stamp &) const = default;
    };
    QHash<QString, Stamp> stamps() const;

    QString m_folder;
    QHash<QString, Stamp> m_seen, m_taken;
    QTimer m_timer;
};

} // namespace wavechroma::app
