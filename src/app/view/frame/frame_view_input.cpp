// The frame under mouse, wheel and keys.
#include "app/view/frame/frame_view.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QWheelEvent>
#include <cmath>

namespace wavechroma::app {

void FrameView::wheelEvent(QWheelEvent *event)
{
    if (event->modifiers() & Qt::ControlModifier) { // one gesture sizes all windows
        changeWindow(event->angleDelta().y() > 0 ? 0.05 : -0.05);
        return;
    }
    zoomAbout(std::pow(1.0015, event->angleDelta().y()), event->position());
}

int FrameView::handleAt(const QPointF &point) const
{
    if (!m_placed || !m_editable)
        return None;
    const auto near = [&](const QPointF &p) {
        return std::hypot(p.x() - point.x(), p.y() - point.y()) < kGrip + 5;
    };
    for (int i = 0; i < 4; ++i)
        if (near(viewFromFrame(m_corners[size_t(i)])))
            return i;
    return near(wholeHandle()) ? int(Whole) : int(None);
}

void FrameView::mousePressEvent(QMouseEvent *event)
{
    m_last = event->position();
    m_moved = false;
    if (m_tool != Tool::None && event->button() == Qt::LeftButton) {
        clickTool(frameFromView(m_last));
        m_panning = false;
        return;
    }
    m_dragging = event->button() == Qt::LeftButton ? handleAt(m_last) : int(None);
    m_active = m_dragging;
    m_panning = m_dragging == None;
    update();
}

void FrameView::move(int handle, double dx, double dy)
{
    for (int i = 0; i < 4; ++i)
        if (i == handle || handle == Whole) {
            auto &c = m_corners[size_t(i)];
            c = {std::clamp(c.x + dx, -0.5 * m_frame->frame->width, 1.5 * m_frame->frame->width),
                 std::clamp(c.y + dy, -0.5 * m_frame->frame->height, 1.5 * m_frame->frame->height)};
        }
}

void FrameView::mouseMoveEvent(QMouseEvent *event)
{
    const QPointF at = event->position();
    m_cursor = frameFromView(at);
    m_moved = m_moved || (event->buttons() != Qt::NoButton && (at - m_last).manhattanLength() > 2);
    if (m_dragging != None) {
        const auto from = frameFromView(m_last), to = frameFromView(at);
        move(m_dragging, to.x - from.x, to.y - from.y);
        m_last = at;
        emit placementMoved(m_corners, m_windowShare, false);
        update();
    } else if (m_panning && event->buttons() != Qt::NoButton) {
        m_offset += at - m_last;
        m_last = at;
        m_fits = false;
        clampOffset();
        update();
    } else {
        setCursor(m_tool != Tool::None   ? Qt::CrossCursor
                  : handleAt(at) != None ? Qt::SizeAllCursor
                                         : Qt::OpenHandCursor);
        if (m_loupe || m_tool != Tool::None)
            update();
    }
}

void FrameView::mouseReleaseEvent(QMouseEvent *event)
{
    // a drag with a tool is its two clicks
    if (m_tool != Tool::None && m_tool != Tool::ThreeCorners && m_tool != Tool::Square && m_moved &&
        m_clicked.size() == 1 && event->button() == Qt::LeftButton)
        return clickTool(frameFromView(event->position()));
    const bool clicked = m_panning && !m_moved;
    m_panning = false;
    if (m_dragging == None) {
        if (const auto id = clicked && m_editable ? patchAt(event->position()) : std::string(); !id.empty())
            emit patchClicked(QString::fromStdString(id));
        return;
    }
    const bool corner = m_dragging != Whole && m_moved;
    m_dragging = None;
    if (corner)
        emit cornerDropped(m_corners, m_windowShare);
    else
        emit placementMoved(m_corners, m_windowShare, true);
    update();
}

void FrameView::nudge(int dx, int dy)
{
    if (!m_placed || !m_editable || m_active == None || !m_frame || !m_frame->frame)
        return; // a frame whose file is gone still shows where its chart was
    // arrows follow the upright picture
    const QTransform turn = upright();
    const QTransform back = QTransform(turn.m11(), turn.m12(), turn.m21(), turn.m22(), 0, 0).inverted();
    const QPointF step = back.map(QPointF(dx, dy));
    move(m_active, step.x(), step.y());
    m_nudged = true;
    emit placementMoved(m_corners, m_windowShare, false);
    update();
}

void FrameView::changeWindow(double by)
{
    if (!m_placed || !m_editable)
        return;
    m_windowShare = std::clamp(std::round((m_windowShare + by) * 20) / 20, 0.1, 0.9);
    emit placementMoved(m_corners, m_windowShare, true);
    update();
}

bool FrameView::focusNextPrevChild(bool next)
{
    if (!m_placed || !m_editable)
        return QWidget::focusNextPrevChild(next);
    // Tab goes through the four corners and the whole chart, then leaves.
    const int wanted = next ? m_active + 1 : (m_active == None ? int(Whole) : m_active - 1);
    if (wanted < 0 || wanted > Whole) {
        m_active = None;
        update();
        return QWidget::focusNextPrevChild(next);
    }
    m_active = wanted;
    update();
    return true;
}

void FrameView::keyPressEvent(QKeyEvent *event)
{
    if (toolKey(event))
        return;
    const int step = event->modifiers() & Qt::ShiftModifier ? 10 : 1;
    switch (event->key()) {
    case Qt::Key_Left:
        return nudge(-step, 0);
    case Qt::Key_Right:
        return nudge(step, 0);
    case Qt::Key_Up:
        return nudge(0, -step);
    case Qt::Key_Down:
        return nudge(0, step);
    case Qt::Key_BracketLeft:
        return changeWindow(-0.05);
    case Qt::Key_BracketRight:
        return changeWindow(0.05);
    default:
        QWidget::keyPressEvent(event);
    }
}

void FrameView::keyReleaseEvent(QKeyEvent *event)
{
    // A run of key presses is one step of undo, closed when the key is let go.
    if (m_nudged && !event->isAutoRepeat()) {
        m_nudged = false;
        emit placementMoved(m_corners, m_windowShare, true);
    }
    QWidget::keyReleaseEvent(event);
}

} // namespace wavechroma::app
