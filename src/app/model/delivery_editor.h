#pragma once
#include "app/model/job_document.h"
#include "app/model/task_runner.h"
#include "core/tasks/deliver_task.h"

#include <QTimer>
#include <atomic>
#include <set>
#include <unordered_set>

namespace wavechroma::app {

/// The deliveries of the job, without any widgets: which one is open, what it asks for, what it will write,
/// and the writing of it. Each change is one undoable step; the plan follows by itself.
class DeliveryEditor : public QObject
{
    Q_OBJECT
public:
    DeliveryEditor(JobDocument *job, TaskRunner *tasks, QObject *parent = nullptr);

    [[nodiscard]] QStringList
    titles() const; ///< of the job's deliveries; at least one, which may not be kept yet
    [[nodiscard]] int current() const { return m_current; }
    void open(int delivery);
    void add(const QString &title); ///< with the forms of the one that is open
    /// Opens the small delivery of a chart frame's profiles, which is made where it is not there yet.
    void openProfilesOf(RowId chart);
    /// Opens the one of a calibration's document, a path from the job's folder.
    void openProfilesOf(const QString &calibration, const QString &file);

    [[nodiscard]] const Delivery &asked() const { return m_asked; }
    void setForms(const std::vector<DeliveryForm> &forms, const QString &undoText);
    void setNames(const QString &names);
    void setLeaving(const std::vector<RowId> &frames, bool leave); ///< those go along or stay

    [[nodiscard]] const DeliveryPlan &plan() const { return *m_plan; }
    [[nodiscard]] const std::shared_ptr<const DeliveryPlan> &sharedPlan() const { return m_plan; }
    [[nodiscard]] QString planFault() const { return m_planFault; } ///< why there is none
    [[nodiscard]] std::vector<RowId> products()
        const; ///< frames that can leave, in time order; chart frames too where the delivery names its frames
    [[nodiscard]] bool leaves(RowId frame) const;

    [[nodiscard]] QString folder() const; ///< where it goes
    void setFolder(const QString &folder);

    /// Files that the delivery would write where another one is, and keeps: by the plan and by the last
    /// writing.
    [[nodiscard]] std::vector<std::string> inTheWay() const;
    /// Writes the delivery. Of the files in the way only those at `replaced` are replaced.
    void write(const std::vector<std::string> &replaced = {});
    /// Files of this delivery that became stale are written anew by the program itself, a moment after the
    /// job's last change. Off until somebody switches it on; kept for this job and delivery on this computer.
    void setWritesItself(bool on);
    [[nodiscard]] bool writesItself() const;
    void pause(bool on);
    void stop();
    [[nodiscard]] bool isWriting() const;
    [[nodiscard]] bool isPaused() const { return *m_paused; }
    void setWatched(bool on); ///< the plan follows the job while somebody looks at it
    void planAgain();         ///< what lies in the folder may have changed

signals:
    void changed(); ///< what is asked, or the plan
    void progressed(double fraction, const QString &step);
    void finished(const QString &message, bool isWell);

private:
    [[nodiscard]] QString finishedWords(const Delivery &done) const;
    void refresh();
    void addRow(const QString &title, const Delivery &fresh);
    void openOrAdd(const QString &title, Delivery fresh);
    void keep(const Delivery &asked, const QString &undoText);
    [[nodiscard]] bool isFollowed() const { return m_isWatched || writesItself(); }
    [[nodiscard]] QString ownKey() const; ///< of this job and delivery among the computer's settings
    void writeWhatIsStale();

    JobDocument *m_job;
    TaskRunner *m_tasks;
    int m_current = 0, m_round = 0;
    Delivery m_asked;
    std::unordered_set<std::string> m_named, m_without; ///< its frames and those that stay
    std::shared_ptr<const DeliveryPlan> m_plan = std::make_shared<const DeliveryPlan>();
    QString m_planFault, m_folder;
    std::set<std::string> m_keptLast;  ///< by the last writing
    std::set<std::string> m_triedLast; ///< stale ones that were written by themselves; not tried twice
    QTimer m_soon;
    bool m_isWatched = false;
    std::shared_ptr<std::atomic<bool>> m_paused = std::make_shared<std::atomic<bool>>(false);
};

/// What a new delivery starts with: pictures for the client, for the archive, and profiles.
[[nodiscard]] std::vector<DeliveryForm> usualForms();

} // namespace wavechroma::app
