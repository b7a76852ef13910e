#pragma once
#include "app/view/bench/bench.h"
#include "app/view/window/action_row.h"
#include "app/view/window/desk.h"

class QInputDialog;

namespace wavechroma::app {

/// The actions of one subject: their rows, and what they do.
class ActionGroup : public QObject
{
    Q_OBJECT
public:
    explicit ActionGroup(Desk *desk);

protected:
    [[nodiscard]] QWidget *window() const; ///< over which dialogs open
    [[nodiscard]] FrameEditor *editor() const { return m_desk->editor(); }
    [[nodiscard]] RowId subject() const { return m_desk->subject(); }
    [[nodiscard]] bool isOn(const QString &action) const; ///< of an action that keeps its own tick
    [[nodiscard]] QString handoverFolder() const;         ///< the job's folder for deliveries, made
    QInputDialog *question(const QString &title, const QString &words) const;
    void showMessage(const QString &message) const { m_desk->showMessage(message); }

    Desk *m_desk;
    JobDocument &m_job;
    TaskRunner &m_tasks;
    Intake &m_intake;
    FolderWatch &m_watch;
    Bench *m_bench;
};

} // namespace wavechroma::app
