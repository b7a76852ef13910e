#include "app/view/window/action_group.h"

#include "app/model/spoken.h"

#include <QAction>
#include <QDir>
#include <QInputDialog>

namespace wavechroma::app {

ActionGroup::ActionGroup(Desk *desk)
    : QObject(desk), m_desk(desk), m_job(*desk->job()), m_tasks(*desk->tasks()), m_intake(*desk->intake()),
      m_watch(*desk->watch()), m_bench(desk->bench())
{
}

QWidget *ActionGroup::window() const
{
    return m_desk->window();
}

bool ActionGroup::isOn(const QString &action) const
{
    return window()->findChild<QAction *>(action)->isChecked();
}

QString ActionGroup::handoverFolder() const
{
    const auto folder = text((m_job.store()->folder() / "handover").string());
    if (!m_job.isReadOnly())
        QDir().mkpath(folder);
    return folder;
}

QInputDialog *ActionGroup::question(const QString &title, const QString &words) const
{
    auto *dialog = new QInputDialog(window());
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setWindowTitle(title);
    dialog->setLabelText(words);
    return dialog;
}

} // namespace wavechroma::app
