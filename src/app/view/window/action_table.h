#pragma once
#include "app/view/window/action_finder.h"
#include "app/view/window/action_row.h"

#include <QObject>

class QAction;
class QMainWindow;
class QMenu;

namespace wavechroma::app {

/// The rows of all groups as actions of the window: in menus and context menus, with what can be done now.
class ActionTable : public QObject
{
    Q_OBJECT
public:
    explicit ActionTable(QMainWindow *window);

    void add(const MenuRows &menu);
    [[nodiscard]] QAction *action(const QString &id) const;
    [[nodiscard]] QMenu *menu(int index) const { return m_menus[size_t(index)]; }
    /// Shows what can be done; nothing where that is the same as before.
    void adapt(const Availability &now);
    /// A widget's context menu shows the actions of that place.
    void offerOn(QWidget *widget, ActionRow::Place place);

    [[nodiscard]] std::vector<ActionFinder::Offer> offers() const;
    /// The actions with a key, by menu.
    struct Keys
    {
        QString menu;
        std::vector<const QAction *> actions;
    };
    [[nodiscard]] std::vector<Keys> keys() const;

private:
    void addRow(const ActionRow &row, QMenu *menu);
    void adaptRow(const ActionRow &row, QAction *action) const;
    void showMenuOf(ActionRow::Place place, const QPoint &where);

    struct Made
    {
        ActionRow row;
        QAction *action;
        QMenu *menu;
    };
    QMainWindow *m_window;
    std::vector<QMenu *> m_menus;
    std::vector<Made> m_made;
    Availability m_now;
    bool m_isAdapted = false;
};

} // namespace wavechroma::app
