// The day sheet under mouse and keys.
#include "app/view/day/day_sheet.h"

#include "app/model/spoken.h"
#include "core/words/answer_words.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QToolTip>

namespace wavechroma::app {

void DayCanvas::select(RowId frame)
{
    if (frame == m_selected)
        return;
    m_selected = frame;
    chosenOrPlacedAnew();
    if (const int high = heightForWidth(width()); high != minimumHeight()) { // runs fold and open by it
        updateGeometry();
        setMinimumHeight(high);
    }
    if (frame)
        emit showAsked(frameRect(frame));
    emit selectionChanged();
    update();
}

void DayCanvas::mousePressEvent(QMouseEvent *event)
{
    const auto &lanes = placedLanes();
    for (size_t i = 0; i < lanes.size(); ++i)
        if (lanes[i].answer.contains(event->pos()) && m_lanes[i]->answer.frame) {
            emit openAsked(m_lanes[i]->answer.frame);
            return;
        }
    select(frameAt(event->pos()));
}

void DayCanvas::mouseDoubleClickEvent(QMouseEvent *event)
{
    if (const auto frame = frameAt(event->pos())) {
        emit openAsked(frame);
        return;
    }
    const auto &lanes = placedLanes();
    for (size_t i = 0; i < lanes.size(); ++i)
        if (lanes[i].setup.contains(event->pos()))
            emit renameAsked(m_lanes[i]->setup);
}

void DayCanvas::mouseMoveEvent(QMouseEvent *event)
{
    const auto &lanes = placedLanes();
    bool hand = frameAt(event->pos()) != 0;
    for (size_t i = 0; i < lanes.size(); ++i)
        hand = hand || (lanes[i].answer.contains(event->pos()) && m_lanes[i]->answer.frame);
    setCursor(hand ? Qt::PointingHandCursor : Qt::ArrowCursor);
}

void DayCanvas::step(int by)
{
    std::vector<RowId> order;
    for (const auto *lane : m_lanes)
        order.insert(order.end(), lane->frames.begin(), lane->frames.end());
    if (order.empty())
        return;
    const auto at = std::find(order.begin(), order.end(), m_selected);
    const auto index = at == order.end()
                           ? (by > 0 ? 0 : ptrdiff_t(order.size()) - 1)
                           : std::clamp(at - order.begin() + by, ptrdiff_t(0), ptrdiff_t(order.size()) - 1);
    select(order[size_t(index)]);
}

void DayCanvas::keyPressEvent(QKeyEvent *event)
{
    switch (event->key()) {
    case Qt::Key_Right:
    case Qt::Key_Down:
        return step(1);
    case Qt::Key_Left:
    case Qt::Key_Up:
        return step(-1);
    case Qt::Key_Return:
    case Qt::Key_Enter:
        if (m_selected)
            emit openAsked(m_selected);
        return;
    default:
        QWidget::keyPressEvent(event);
    }
}

bool DayCanvas::event(QEvent *event)
{
    if (event->type() == QEvent::ToolTip) {
        const auto *help = static_cast<QHelpEvent *>(event);
        if (const auto *frame = m_job->state().frame(frameAt(help->pos()))) {
            const auto &c = frame->camera;
            QString tip = tr("%1\n%2, f/%3, ISO %4")
                              .arg(text(frame->path), exposure(c.exposureSeconds))
                              .arg(c.fNumber)
                              .arg(c.iso);
            if (frame->part == FramePart::Chart) {
                const auto answer = m_job->stations().answerOf(m_job->state(), frame->id);
                tip += "\n" + text(words::headline(answer, spoken())) + ": " +
                       text(words::reason(answer, spoken()));
            }
            if (const auto note = m_notes.constFind(frame->id); note != m_notes.constEnd())
                for (const auto &each : note->words())
                    tip += "\n" + each;
            QToolTip::showText(help->globalPos(), tip, this);
        } else {
            QToolTip::hideText();
        }
        return true;
    }
    if (event->type() == QEvent::Resize) {
        m_pieces.clear();
        setMinimumHeight(heightForWidth(width()));
    }
    return QWidget::event(event);
}

} // namespace wavechroma::app
