// Rows of actions into menus, and when each can be done.
#include "app/model/screen_profile.h"
#include "app/view/bench/bench.h"
#include "app/view/bench/product/product_bench.h"
#include "app/view/bench/product/product_view.h"
#include "app/view/bench/read/read_stop.h"
#include "app/view/day/day_sheet.h"
#include "app/view/studio/studio_panel.h"
#include "app/view/window/main_window.h"

#include <QMenu>
#include <QMenuBar>

namespace wavechroma::app {

QAction *MainWindow::action(const QString &name) const
{
    return findChild<QAction *>(name);
}

void MainWindow::makeActions()
{
    for (const auto &rows : {jobRows(), framesRows(), readRows(), balanceRows(), fitRows(), proofRows(),
                             viewRows(), helpRows()}) {
        auto *menu = menuBar()->addMenu(rows.title);
        menu->setToolTipsVisible(true);
        for (const auto &row : rows.rows)
            addRow(row, menu);
    }
    auto *undo = new QAction(tr("Undo"), this);
    connect(undo, &QAction::triggered, editor(), &FrameEditor::takeBack);
    const auto showUndo = [this, undo] {
        undo->setEnabled(editor()->canTakeBack());
        undo->setText(tr("Undo %1").arg(m_job.undoStack()->undoText()).trimmed());
    };
    connect(m_job.undoStack(), &QUndoStack::indexChanged, undo, showUndo);
    connect(editor(), &FrameEditor::factsChanged, undo, showUndo);
    connect(&m_tasks, &TaskRunner::ended, undo, showUndo);
    showUndo();
    auto *redo = m_job.undoStack()->createRedoAction(this, tr("Redo"));
    undo->setObjectName("undo");
    undo->setShortcut(QKeySequence("Ctrl+Z"));
    redo->setObjectName("redo");
    redo->setShortcut(QKeySequence("Ctrl+Shift+Z"));
    auto *job = menuBar()->actions().front()->menu();
    auto *before = action("closeJob");
    job->insertActions(before, {undo, redo});
    job->insertSeparator(before);
    addActions({undo, redo});
    for (auto *widget :
         {static_cast<QWidget *>(m_daySheet->canvas()), static_cast<QWidget *>(m_bench->readStop()->view()),
          static_cast<QWidget *>(m_bench->product()->view())}) {
        const auto place = widget == m_daySheet->canvas() ? ActionRow::OfFrame : ActionRow::OfBench;
        widget->setContextMenuPolicy(Qt::CustomContextMenu);
        connect(widget, &QWidget::customContextMenuRequested, this,
                [this, widget, place](const QPoint &at) { showMenuOf(place, widget->mapToGlobal(at)); });
    }
}

void MainWindow::addRow(const ActionRow &row, QMenu *menu)
{
    auto *made = new QAction(row.text, this);
    made->setObjectName(row.id);
    made->setShortcut(QKeySequence(row.key));
    made->setStatusTip(row.why);
    made->setCheckable(row.checkable);
    connect(made, &QAction::triggered, this, row.run);
    if (row.place == ActionRow::NewGroup)
        menu->addSeparator();
    if (row.place == ActionRow::InMenu || row.place == ActionRow::NewGroup)
        menu->addAction(made);
    addAction(made);
    m_actions.push_back({row, made});
}

void MainWindow::showMenuOf(ActionRow::Place place, const QPoint &where)
{
    QMenu menu(this);
    menu.setToolTipsVisible(true);
    for (const auto &made : m_actions)
        if (made.row.place == place)
            menu.addAction(made.action);
    menu.exec(where);
}

void MainWindow::adaptActionsSoon()
{
    if (std::exchange(m_adaptsSoon, true))
        return;
    QMetaObject::invokeMethod(
        this,
        [this] {
            m_adaptsSoon = false;
            adaptActions();
        },
        Qt::QueuedConnection);
}

/// Plain grey where it cannot be done, and the tip says why.
void MainWindow::adaptActions()
{
    for (const auto &made : m_actions) {
        const auto not_now = made.row.when ? made.row.when() : QString();
        const auto key = made.action->shortcut().toString(QKeySequence::NativeText);
        made.action->setEnabled(not_now.isEmpty());
        const auto why = key.isEmpty() ? made.row.why : tr("%1 (%2)").arg(made.row.why, key);
        made.action->setToolTip(not_now.isEmpty() ? why : tr("%1\nNot now: %2").arg(why, not_now));
    }
    const auto *frame = m_job.state().frame(subject());
    action("setAside")->setText(frame && frame->setAside ? tr("Take Frame Back") : tr("Set Frame Aside"));
    action("watch")->setText(m_watch.isWatching() ? tr("Stop Watching") : tr("Watch a Folder…"));
    action("daySheet")->setChecked(m_job.isOpen() && !isOnBench() && !isAtHandover());
    action("handover")->setChecked(m_job.isOpen() && isAtHandover());
    action("bench")->setChecked(m_job.isOpen() && isOnBench());
    const auto &monitor = ScreenProfile::current();
    action("monitorFile")->setText(tr("Monitor: %1…").arg(monitor.words()));
    action("monitorDesktop")->setChecked(monitor.from() == ScreenProfile::From::Desktop);
    action("monitorNone")->setChecked(monitor.from() == ScreenProfile::From::None);
    action("studio")->setChecked(m_studio->isVisible());
    action("merge")->setText(editor()->isMerged() ? tr("Separate Merged Readings")
                                                  : tr("Merge Bracket and Repeats"));
}

QString MainWindow::whenOpen() const
{
    return m_job.isOpen() ? QString() : tr("no job is open.");
}

QString MainWindow::whenWritable() const
{
    if (const auto why = whenOpen(); !why.isEmpty())
        return why;
    return m_job.isReadOnly() ? tr("the job is read-only here.") : QString();
}

QString MainWindow::whenFrame() const
{
    if (const auto why = whenWritable(); !why.isEmpty())
        return why;
    return m_job.state().frame(subject()) ? QString() : tr("no frame is chosen.");
}

QString MainWindow::whenOnBench() const
{
    return isOnBench() && m_job.currentFrame() ? QString() : tr("no frame is on the bench.");
}

QString MainWindow::whenEditable() const
{
    const auto why = whenOnBench();
    return why.isEmpty() ? whenWritable() : why;
}

QString MainWindow::whenRead() const
{
    if (const auto why = whenEditable(); !why.isEmpty())
        return why;
    const auto &reading = m_bench->facts().reading;
    return reading && reading->found ? QString() : tr("no chart was read in this frame.");
}

QString MainWindow::whenBalanced() const
{
    if (const auto why = whenEditable(); !why.isEmpty())
        return why;
    return m_bench->facts().balance ? QString() : tr("the frame has no balance yet.");
}

QString MainWindow::whenFitted() const
{
    if (const auto why = whenEditable(); !why.isEmpty())
        return why;
    return m_bench->facts().chosen() ? QString() : tr("the frame has no calibration.");
}

} // namespace wavechroma::app
