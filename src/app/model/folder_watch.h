#pragma once
#include "app/model/job_document.h"

#include <QHash>
#include <QSet>
#include <QTimer>

namespace wavechroma::app {

/// Watches a folder that a tethering program fills. A file is taken when it has a frame's name, has kept its
/// size and time for two looks half a second apart, and all is there that its own format says it has (see
/// extentOf()), so that slow copies, stalled ones and files of a size set beforehand are whole; one that
/// stays short for half a minute is taken all the same, and answered with what is wrong with it. What lay
/// there before is left alone; a file that is written anew under the same name is taken again. Polling rather
/// than file system events, which network folders do not send.
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
    [[nodiscard]] bool isWhole(const QString &file);
    QHash<QString, Stamp> m_seen, m_taken;
    QHash<QString, int> m_short; ///< looks at which a file that rests was still short
    QTimer m_timer;
};

} // namespace wavechroma::app
