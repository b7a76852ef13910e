#include "app/view/window/action_table.h"

#include <QAction>
#include <QMainWindow>
#include <QMenu>
#include <QMenuBar>

namespace wavechroma::app {

ActionTable::ActionTable(QMainWindow *window) : QObject(window), m_window(window) {}

void ActionTable::add(const MenuRows &menu)
{
    auto *made = m_window->menuBar()->addMenu(menu.title);
    made->setToolTipsVisible(true);
    m_menus.push_back(made);
    for (const auto &row : menu.rows)
        addRow(row, made);
}

void ActionTable::addRow(const ActionRow &row, QMenu *menu)
{
    auto *made = new QAction(row.text, m_window);
    made->setObjectName(row.id);
    made->setShortcut(QKeySequence(row.key));
    made->setStatusTip(row.why);
    made->setCheckable(row.checkable);
    connect(made, &QAction::triggered, this, [this, row, made] {
        row.run();
        if (row.isOn) // a click ticks it, whatever came of it
            made->setChecked(row.isOn(m_now));
    });
    if (row.place == ActionRow::NewGroup)
        menu->addSeparator();
    if (row.place == ActionRow::InMenu || row.place == ActionRow::NewGroup)
        menu->addAction(made);
    m_window->addAction(made);
    m_made.push_back({row, made, menu});
}

QAction *ActionTable::action(const QString &id) const
{
    for (const auto &made : m_made)
        if (id == made.row.id)
            return made.action;
    return m_window->findChild<QAction *>(id); // undo and redo are the stack's own
}

void ActionTable::adapt(const Availability &now)
{
    if (m_isAdapted && now == m_now)
        return;
    m_now = now;
    m_isAdapted = true;
    for (const auto &made : m_made)
        adaptRow(made.row, made.action);
}

/// Plain grey where it cannot be done, and the tip says why.
void ActionTable::adaptRow(const ActionRow &row, QAction *action) const
{
    const auto notNow = row.when ? row.when(m_now) : QString();
    const auto key = action->shortcut().toString(QKeySequence::NativeText);
    const auto why = key.isEmpty() ? row.why : tr("%1 (%2)").arg(row.why, key);
    action->setEnabled(notNow.isEmpty());
    action->setToolTip(notNow.isEmpty() ? why : tr("%1\nNot now: %2").arg(why, notNow));
    if (row.textNow)
        action->setText(row.textNow(m_now));
    if (row.isOn)
        action->setChecked(row.isOn(m_now));
}

void ActionTable::offerOn(QWidget *widget, ActionRow::Place place)
{
    widget->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(widget, &QWidget::customContextMenuRequested, this,
            [this, widget, place](const QPoint &at) { showMenuOf(place, widget->mapToGlobal(at)); });
}

void ActionTable::showMenuOf(ActionRow::Place place, const QPoint &where)
{
    QMenu menu(m_window);
    menu.setToolTipsVisible(true);
    for (const auto &made : m_made)
        if (made.row.place == place)
            menu.addAction(made.action);
    menu.exec(where);
}

std::vector<ActionFinder::Offer> ActionTable::offers() const
{
    std::vector<ActionFinder::Offer> out;
    for (const auto &made : m_made)
        out.push_back({made.action, made.row.why, made.row.when ? made.row.when(m_now) : QString()});
    return out;
}

std::vector<ActionTable::Keys> ActionTable::keys() const
{
    std::vector<Keys> out;
    for (const auto *menu : m_menus) {
        Keys keys{QString(menu->title()).remove('&'), {}};
        for (const auto *action : menu->actions()) // undo and redo too, which are no rows
            if (!action->shortcut().isEmpty())
                keys.actions.push_back(action);
        for (const auto &made : m_made)
            if (made.menu == menu && !made.action->shortcut().isEmpty() &&
                !menu->actions().contains(made.action))
                keys.actions.push_back(made.action);
        out.push_back(std::move(keys));
    }
    return out;
}

} // namespace wavechroma::app
