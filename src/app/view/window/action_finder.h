#pragma once
#include "app/view/window/action_search.h"

#include <QAction>
#include <QDialog>

class QLineEdit;

namespace wavechroma::app {

class PaintedList;

/// Finds an action by its name: a line to type in, and below it what is found, each with its key, or why it
/// cannot be used now. Enter runs the marked one.
class ActionFinder : public QDialog
{
    Q_OBJECT
public:
    struct Offer
    {
        QAction *action;
        QString why;    ///< what it is for
        QString notNow; ///< why it cannot be used now; empty: it can
    };
    ActionFinder(std::vector<Offer> offers, QWidget *parent);
    [[nodiscard]] QLineEdit *line() const { return m_line; }
    [[nodiscard]] QStringList found() const; ///< names, in order

protected:
    bool eventFilter(QObject *watched, QEvent *event) override; ///< arrows in the line move the mark

private:
    void search();
    void mark(int row);
    void run();
    void paintRow(QPainter &painter, const QRect &area, int row) const;

    std::vector<Offer> m_offers;
    std::vector<size_t> m_found;
    int m_marked = 0;
    QLineEdit *m_line;
    PaintedList *m_list;
};

} // namespace wavechroma::app
