#include "app/view/widgets/painted_list.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QStyledItemDelegate>
#include <utility>

namespace wavechroma::app {

namespace {

class RowDelegate : public QStyledItemDelegate
{
public:
    RowDelegate(PaintedList *list, PaintedList::PaintRow paint)
        : QStyledItemDelegate(list), m_list(list), m_paint(std::move(paint))
    {
    }
    QSize sizeHint(const QStyleOptionViewItem &, const QModelIndex &index) const override
    {
        return m_list->rowSize(index.row());
    }
    void paint(QPainter *painter, const QStyleOptionViewItem &option, const QModelIndex &index) const override
    {
        painter->save();
        m_paint(*painter, option.rect, index.row());
        painter->restore();
        if (m_list->hasFocus() && index == m_list->currentIndex()) {
            painter->setPen(QPen(option.palette.color(QPalette::WindowText), 2));
            painter->drawRect(option.rect.adjusted(1, 1, -2, -2));
        }
    }

private:
    PaintedList *m_list;
    PaintedList::PaintRow m_paint;
};

} // namespace

PaintedList::PaintedList(const QString &name, PaintRow paint, QWidget *parent) : QListView(parent)
{
    setAccessibleName(name);
    setModel(&m_rows);
    setItemDelegate(new RowDelegate(this, std::move(paint)));
    setFrameShape(NoFrame);
    setSelectionMode(NoSelection);
    setEditTriggers(NoEditTriggers);
    setUniformItemSizes(true);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    viewport()->setAutoFillBackground(false);
}

void PaintedList::show(const QStringList &sentences, int marked)
{
    if (m_rows.stringList() != sentences)
        m_rows.setStringList(sentences);
    setCurrentIndex(m_rows.index(marked));
    viewport()->update();
}

void PaintedList::setRowHeight(std::function<int(int, int)> height)
{
    m_height = std::move(height);
    setUniformItemSizes(false);
    setResizeMode(Adjust);
}

QSize PaintedList::rowSize(int row) const
{
    return m_height ? QSize(viewport()->width(), m_height(viewport()->width(), row)) : gridSize();
}

void PaintedList::setCell(const QSize &size)
{
    if (gridSize() != size)
        setGridSize(size);
}

QRect PaintedList::cell(int row) const
{
    return visualRect(m_rows.index(row));
}

void PaintedList::mousePressEvent(QMouseEvent *event)
{
    if (focusPolicy() != Qt::NoFocus)
        setFocus(Qt::MouseFocusReason);
    const auto index = indexAt(event->pos());
    if (!index.isValid() || event->button() != Qt::LeftButton)
        return event->ignore();
    setCurrentIndex(index);
    emit picked(index.row(), event->modifiers());
}

void PaintedList::keyPressEvent(QKeyEvent *event)
{
    const bool takes = event->key() == Qt::Key_Space || event->key() == Qt::Key_Return;
    const auto before = currentIndex();
    if (!takes)
        QListView::keyPressEvent(event);
    const auto now = currentIndex();
    if (now.isValid() && (takes || (m_steps && now != before && event->modifiers() == Qt::NoModifier)))
        emit picked(now.row(), event->modifiers());
}

} // namespace wavechroma::app
