#pragma once
#include "app/model/job_document.h"
#include "app/model/task_runner.h"

#include <QHash>
#include <QSet>
#include <QTimer>

namespace wavechroma::app {

/// Watches a folder that a tethering program fills; it is looked at off the interface thread, since network
/// folders may take their time. A file is taken when it has a frame's name, has kept its
/// size and time for two looks half a second apart, and all is there that its own format says it has (see
/// extentOf()), so that slow copies, stalled ones and files of a size set beforehand are whole; one that
/// stays short for half a minute is taken all the same, and answered with what is wrong with it. What lay
/// there before is left alone; a file that is written anew under the same name is taken again. Polling rather
/// than file system events, which network folders do not send.
class FolderWatch : public QObject
{
    Q_OBJECT
public:
    FolderWatch(JobDocument *job, TaskRunner *tasks, QObject *parent = nullptr);
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
    using Stamps = QHash<QString, Stamp>;
    /// What one look finds.
    struct Look
    {
        bool isThere = false; ///< the folder
        Stamps stamps;
        QSet<QString> shortFiles; ///< of those that rest and are not taken yet
    };
    [[nodiscard]] static Look lookAt(const QString &folder, const Stamps &seen, const Stamps &taken);
    [[nodiscard]] static Stamps stampsIn(const QString &folder);
    [[nodiscard]] static bool isAt(const Stamps &stamps, const QString &file, const Stamp &stamp);
    void take(const Look &look);
    [[nodiscard]] bool isWhole(const QString &file, const Look &look);

    TaskRunner *m_tasks;
    QString m_folder;
    int m_round = 0;    ///< of the folder that is watched
    qint64 m_since = 0; ///< when that began, ms; files written from then on are new even at the first look
    bool m_isFirst = false;
    Stamps m_seen, m_taken;
    QHash<QString, int> m_short; ///< looks at which a file that rests was still short
    QTimer m_timer;
};

} // namespace wavechroma::app
