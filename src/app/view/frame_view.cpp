#include "app/view/frame_view.h"

#include "app/view/look.h"

#include <QKeyEvent>
#include <QPainter>
#include <QMouseEvent>
#include <QWheelEvent>
#include <cmath>

namespace wavechroma::app {

static constexpr double kGrip = 11, kMostZoom = 16;

FrameView::FrameView(QWidget *parent) : QWidget(parent)
{
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setMinimumSize(320, 240);
    setAccessibleName(tr("Chart frame"));
}

void FrameView::setFrame(std::shared_ptr<const OpenFrame> frame)
{
    const bool other = !frame || !m_frame || frame->id != m_frame->id;
    m_frame = std::move(frame);
    m_hatching = m_frame ? hatchingOf(m_frame->exposure) : Hatching();
    if (other) {
        m_tool = Tool::None;
        m_clicked.clear();
        m_cursor.reset();
    }
    if (m_frame && !m_frame->fault.isEmpty())
        m_message = m_frame->fault;
    if (other)
        zoomToFit();
    update();
}

void FrameView::setMessage(const QString &message)
{
    m_message = message;
    update();
}

void FrameView::setPlacement(const std::optional<Reading> &reading, const ChartDefinition &chart)
{
    m_placed = reading && reading->found;
    m_lens = reading ? reading->lens() : LensShape();
    m_leftOut = reading ? reading->leftOut : std::vector<std::string>();
    m_chart = chart;
    if (m_placed && m_dragging == None) {
        m_corners = reading->corners;
        m_windowShare = reading->windowShare;
    }
    update();
}

void FrameView::setEditable(bool editable)
{
    m_editable = editable;
}

QTransform FrameView::upright() const
{
    if (!m_frame || !m_frame->frame)
        return {};
    const double w = m_frame->frame->width, h = m_frame->frame->height;
    switch (m_frame->frame->orientation) { // EXIF: where the stored row 0 and column 0 lie in the upright picture
    case 2:
        return {-1, 0, 0, 1, w, 0};
    case 3:
        return {-1, 0, 0, -1, w, h};
    case 4:
        return {1, 0, 0, -1, 0, h};
    case 5:
        return {0, 1, 1, 0, 0, 0};
    case 6:
        return {0, 1, -1, 0, h, 0};
    case 7:
        return {0, -1, -1, 0, h, w};
    case 8:
        return {0, -1, 1, 0, 0, w};
    default:
        return {};
    }
}

QTransform FrameView::transform() const
{
    return upright() * QTransform::fromScale(m_zoom, m_zoom) * QTransform::fromTranslate(m_offset.x(), m_offset.y());
}

QPointF FrameView::viewFromFrame(const PixelPoint &p) const
{
    return transform().map(QPointF(p.x, p.y));
}

PixelPoint FrameView::frameFromView(const QPointF &p) const
{
    const QPointF at = transform().inverted().map(p);
    return {at.x(), at.y()};
}

void FrameView::zoomToFit()
{
    m_fits = true;
    if (!m_frame || !m_frame->frame)
        return;
    const QSizeF size = upright().mapRect(QRectF(0, 0, m_frame->frame->width, m_frame->frame->height)).size();
    m_zoom = std::min(width() / size.width(), height() / size.height());
    m_offset = {(width() - size.width() * m_zoom) / 2, (height() - size.height() * m_zoom) / 2};
    update();
}

void FrameView::zoomToPixels()
{
    zoomAbout(1 / m_zoom, QPointF(width() / 2.0, height() / 2.0));
}

void FrameView::zoomBy(double factor)
{
    zoomAbout(factor, QPointF(width() / 2.0, height() / 2.0));
}

void FrameView::zoomAbout(double factor, const QPointF &centre)
{
    const double wanted = std::clamp(m_zoom * factor, 0.02, kMostZoom), real = wanted / m_zoom;
    m_offset = centre + (m_offset - centre) * real;
    m_zoom = wanted;
    m_fits = false;
    clampOffset();
    update();
}

void FrameView::clampOffset()
{
    if (!m_frame || !m_frame->frame)
        return;
    const QSizeF size = upright().mapRect(QRectF(0, 0, m_frame->frame->width, m_frame->frame->height)).size() * m_zoom;
    const auto clamp = [](double offset, double picture, double window) {
        const double keep = std::min(80.0, window / 2); // so much of the picture always stays in sight
        return std::clamp(offset, keep - picture, window - keep);
    };
    m_offset = {clamp(m_offset.x(), size.width(), width()), clamp(m_offset.y(), size.height(), height())};
}

void FrameView::drawPicture(QPainter &painter, const QTransform &view) const
{
    // the smallest level that is not coarser than the screen
    const double zoom = std::sqrt(std::abs(view.determinant()));
    qsizetype level = 0;
    while (level + 1 < m_frame->levels.size() && zoom * m_frame->block * std::pow(2.0, double(level + 1)) <= 1.01)
        ++level;
    const auto &image = m_frame->levels[level];
    const double scale = m_frame->block * std::pow(2.0, double(level));
    painter.save();
    painter.setTransform(QTransform::fromScale(scale, scale) * view, true);
    painter.setRenderHint(QPainter::SmoothPixmapTransform, zoom * scale < 3);
    painter.drawImage(QPointF(0, 0), image);
    painter.restore();
}

QPointF FrameView::wholeHandle() const
{
    QPointF sum;
    for (const auto &c : m_corners)
        sum += viewFromFrame(c) / 4;
    return sum;
}

void FrameView::paintPlacement(QPainter &painter) const
{
    const auto homography = homographyFrom(m_chart, m_corners, m_lens);
    painter.setRenderHint(QPainter::Antialiasing);
    const auto outline = [&](const QPolygonF &shape, double width) {
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(QColor(0, 0, 0, 200), width + 2));
        painter.drawPolygon(shape);
        painter.setPen(QPen(QColor(255, 255, 255, 240), width));
        painter.drawPolygon(shape);
    };
    if (homography)
        for (int row = 0; row < m_chart.rows; ++row)
            for (int column = 0; column < m_chart.columns; ++column) {
                QPolygonF window;
                for (const auto &p : patchWindow(m_chart, *homography, row, column, m_windowShare))
                    window << viewFromFrame(p);
                outline(window, 1);
                if (const auto id = patchId(row, column); std::find(m_leftOut.begin(), m_leftOut.end(), id) != m_leftOut.end()) {
                    outline(QPolygonF{window[0], window[2], window[0]}, 2);
                    outline(QPolygonF{window[1], window[3], window[1]}, 2);
                }
            }
    QPolygonF frame;
    for (const auto &c : m_corners)
        frame << viewFromFrame(c);
    outline(frame, 1.5);
    for (int i = 0; i < 4; ++i) {
        const QPointF at = viewFromFrame(m_corners[size_t(i)]);
        const double r = i == m_active ? kGrip : kGrip - 3;
        painter.setPen(QPen(Qt::black, 4));
        painter.setBrush(Qt::NoBrush);
        painter.drawEllipse(at, r, r);
        painter.setPen(QPen(Qt::white, 2));
        painter.drawEllipse(at, r, r);
        if (i == 0) { // the chart's own top-left says which way up it is
            painter.setBrush(Qt::white);
            painter.drawEllipse(at, 3, 3);
        }
    }
    const QPointF centre = wholeHandle();
    const double arm = m_active == Whole ? 13 : 9;
    for (const auto &[color, width] : {std::pair{Qt::black, 4}, {Qt::white, 2}}) {
        painter.setPen(QPen(color, width));
        painter.drawLine(centre - QPointF(arm, 0), centre + QPointF(arm, 0));
        painter.drawLine(centre - QPointF(0, arm), centre + QPointF(0, arm));
    }
}

void FrameView::paintLoupe(QPainter &painter, const PixelPoint &point, const QStringList &words) const
{
    const QPointF at = viewFromFrame(point);
    constexpr double kSize = 190;
    const int lineHeight = 18, textHeight = words.isEmpty() ? 0 : int(words.size()) * lineHeight + 8;
    const double zoom = std::max(2.0, 2 * m_zoom);
    // on the side away from the point, so that it never hides what it shows
    const QRectF where(at.x() < width() / 2.0 ? width() - kSize - 16 : 16, at.y() < height() / 2.0 ? height() - kSize - textHeight - 16 : 16, kSize, kSize);
    painter.save();
    painter.setClipRect(where);
    painter.fillRect(where, palette().window());
    const QTransform flat = upright() * QTransform::fromScale(zoom, zoom);
    const QPointF centre = flat.map(QPointF(point.x, point.y));
    drawPicture(painter, flat * QTransform::fromTranslate(where.center().x() - centre.x(), where.center().y() - centre.y()));
    for (const auto &[color, width] : {std::pair{Qt::black, 3}, {Qt::white, 1}}) {
        painter.setPen(QPen(color, width));
        painter.drawLine(QPointF(where.center().x(), where.top()), QPointF(where.center().x(), where.bottom()));
        painter.drawLine(QPointF(where.left(), where.center().y()), QPointF(where.right(), where.center().y()));
    }
    painter.restore();
    if (!words.isEmpty()) {
        const QRect tag(int(where.left()), int(where.bottom()), int(kSize), textHeight);
        painter.fillRect(tag, palette().base());
        painter.setPen(palette().color(QPalette::Text));
        for (int i = 0; i < words.size(); ++i)
            drawLine(painter, {tag.left() + 6, tag.top() + 4 + i * lineHeight, tag.width() - 10, lineHeight}, words[i], face(12));
    }
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(Qt::black, 2));
    painter.drawRect(where.adjusted(0, 0, 0, textHeight));
}

/// A paper tag along the upper edge.
void FrameView::paintTag(QPainter &painter, const QString &words) const
{
    const QFont font = face(kBody, 600);
    const int wide = std::min(width() - 24, QFontMetrics(font).horizontalAdvance(words) + 24);
    const QRect tag((width() - wide) / 2, 8, wide, 28);
    painter.fillRect(tag, palette().base());
    painter.setPen(palette().color(QPalette::Text));
    drawLine(painter, tag.adjusted(10, 0, -10, 0), words, font, Qt::AlignCenter);
}

void FrameView::paintTool(QPainter &painter) const
{
    auto points = m_clicked;
    if (m_tool != Tool::None && m_cursor)
        points.push_back(*m_cursor);
    painter.setRenderHint(QPainter::Antialiasing);
    for (const auto &[color, width] : {std::pair{Qt::black, 5}, {Qt::white, 2}}) {
        painter.setPen(QPen(color, width));
        for (size_t i = 0; i < points.size(); ++i) {
            const QPointF at = viewFromFrame(points[i]);
            painter.drawLine(at - QPointF(7, 0), at + QPointF(7, 0));
            painter.drawLine(at - QPointF(0, 7), at + QPointF(0, 7));
            if (i > 0)
                painter.drawLine(viewFromFrame(points[i - 1]), at);
        }
    }
    if (m_tool == Tool::ThreeCorners) {
        const QString names[] = {tr("first"), tr("last of the top row"), tr("last of all")};
        paintTag(painter, tr("Click the outer corner of the chart's patch: %1.").arg(names[std::min<size_t>(2, m_clicked.size())]));
    } else if (m_tool == Tool::Ruler) {
        paintTag(painter, m_clicked.empty() ? tr("Click one end of a length that you know.") : tr("Click its other end."));
    } else if (!m_rulerWords.isEmpty()) {
        paintTag(painter, m_rulerWords);
    }
}

void FrameView::startTool(Tool tool)
{
    if (!m_frame || !m_frame->frame)
        return;
    m_tool = tool;
    m_clicked.clear();
    m_rulerWords.clear();
    m_active = m_dragging = None;
    m_cursor = frameFromView(QPointF(width() / 2.0, height() / 2.0));
    setCursor(tool == Tool::None ? Qt::OpenHandCursor : Qt::CrossCursor);
    setFocus();
    update();
}

void FrameView::clickTool(const PixelPoint &at)
{
    m_clicked.push_back(at);
    const auto tool = m_tool;
    if (m_clicked.size() == (tool == Tool::Ruler ? 2u : 3u)) {
        const auto points = m_clicked;
        m_tool = Tool::None;
        if (tool == Tool::Ruler) {
            emit rulerDrawn(points[0], points[1]);
        } else {
            m_clicked.clear();
            emit cornersClicked(points);
        }
    }
    update();
}

bool FrameView::toolKey(const QKeyEvent *event)
{
    if (m_tool == Tool::None && !(m_loupe && m_active == None))
        return false;
    if (m_tool != Tool::None && event->key() == Qt::Key_Escape) {
        m_clicked.clear();
        startTool(Tool::None);
        return true;
    }
    if (m_tool != Tool::None && (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter)) {
        clickTool(cursorPoint());
        return true;
    }
    const int step = event->modifiers() & Qt::ShiftModifier ? 40 : 4;
    QPointF by;
    if (event->key() == Qt::Key_Left || event->key() == Qt::Key_Right)
        by.setX(event->key() == Qt::Key_Left ? -step : step);
    else if (event->key() == Qt::Key_Up || event->key() == Qt::Key_Down)
        by.setY(event->key() == Qt::Key_Up ? -step : step);
    else
        return false;
    m_cursor = frameFromView(viewFromFrame(cursorPoint()) + by);
    update();
    return true;
}

PixelPoint FrameView::cursorPoint() const
{
    return m_cursor.value_or(frameFromView(QPointF(width() / 2.0, height() / 2.0)));
}

void FrameView::setHatched(bool on)
{
    m_hatched = on;
    update();
}

void FrameView::setLoupe(bool on)
{
    m_loupe = on;
    update();
}

std::string FrameView::patchAt(const QPointF &point) const
{
    const auto homography = m_placed ? homographyFrom(m_chart, m_corners, m_lens) : std::nullopt;
    for (int row = 0; homography && row < m_chart.rows; ++row)
        for (int column = 0; column < m_chart.columns; ++column) {
            QPolygonF window;
            for (const auto &p : patchWindow(m_chart, *homography, row, column, m_windowShare))
                window << viewFromFrame(p);
            if (window.containsPoint(point, Qt::OddEvenFill))
                return patchId(row, column);
        }
    return {};
}

QPointF FrameView::patchOnView(const std::string &id) const
{
    const auto homography = m_placed ? homographyFrom(m_chart, m_corners, m_lens) : std::nullopt;
    for (int row = 0; homography && row < m_chart.rows; ++row)
        for (int column = 0; column < m_chart.columns; ++column)
            if (patchId(row, column) == id)
                return viewFromFrame(homography->at(patchCentre(m_chart, row, column)));
    return {};
}

void FrameView::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    if (!m_frame || m_frame->levels.isEmpty()) {
        painter.setPen(palette().color(QPalette::WindowText));
        painter.setFont(face(kAnswer));
        painter.drawText(rect().adjusted(40, 40, -40, -40), Qt::AlignCenter | Qt::TextWordWrap, m_message);
        return;
    }
    drawPicture(painter, transform());
    if (m_hatched)
        drawHatching(painter, m_hatching, transform());
    const bool onCorner = m_placed && m_active >= 0 && m_active < 4 && (m_dragging != None || hasFocus());
    if (m_placed)
        paintPlacement(painter);
    const auto value = m_loupe && m_frame->frame && !onCorner ? valueAt(*m_frame->frame, cursorPoint().x, cursorPoint().y) : std::nullopt;
    if (onCorner)
        paintLoupe(painter, m_corners[size_t(m_active)], {});
    else if (value)
        paintLoupe(painter, cursorPoint(), valueWords(*value, m_frame->calibration));
    if (m_hatched && m_tool == Tool::None)
        paintTag(painter, levelsWords(m_frame->exposure));
    else if (m_tool != Tool::None || !m_rulerWords.isEmpty())
        paintTool(painter);
}

void FrameView::resizeEvent(QResizeEvent *)
{
    if (m_fits)
        zoomToFit();
    else
        clampOffset();
}

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
    const auto near = [&](const QPointF &p) { return std::hypot(p.x() - point.x(), p.y() - point.y()) < kGrip + 5; };
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
        setCursor(m_tool != Tool::None ? Qt::CrossCursor : handleAt(at) != None ? Qt::SizeAllCursor : Qt::OpenHandCursor);
        if (m_loupe || m_tool != Tool::None)
            update();
    }
}

void FrameView::mouseReleaseEvent(QMouseEvent *event)
{
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
    if (!m_placed || !m_editable || m_active == None)
        return;
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
