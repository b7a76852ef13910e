#include "app/view/frame/frame_view.h"

#include "app/view/widgets/look.h"

#include <QKeyEvent>
#include <QPainter>

namespace wavechroma::app {

void FrameView::paintLoupe(QPainter &painter, const PixelPoint &point, const QStringList &words) const
{
    const QPointF at = viewFromFrame(point);
    constexpr double kSize = 190;
    const int lineHeight = 18, textHeight = words.isEmpty() ? 0 : int(words.size()) * lineHeight + 8;
    const double zoom = std::max(2.0, 2 * m_zoom);
    // on the side away from the point, so that it never hides what it shows
    const QRectF where(at.x() < width() / 2.0 ? width() - kSize - 16 : 16,
                       at.y() < height() / 2.0 ? height() - kSize - textHeight - 16 : 16, kSize, kSize);
    painter.save();
    painter.setClipRect(where);
    painter.fillRect(where, palette().window());
    const QTransform flat = upright() * QTransform::fromScale(zoom, zoom);
    const QPointF centre = flat.map(QPointF(point.x, point.y));
    paintPicture(painter, flat * QTransform::fromTranslate(where.center().x() - centre.x(),
                                                           where.center().y() - centre.y()));
    for (const auto &[color, width] : {std::pair{Qt::black, 3}, {Qt::white, 1}}) {
        painter.setPen(QPen(color, width));
        painter.drawLine(QPointF(where.center().x(), where.top()),
                         QPointF(where.center().x(), where.bottom()));
        painter.drawLine(QPointF(where.left(), where.center().y()),
                         QPointF(where.right(), where.center().y()));
    }
    painter.restore();
    if (!words.isEmpty()) {
        const QRect tag(int(where.left()), int(where.bottom()), int(kSize), textHeight);
        painter.fillRect(tag, palette().base());
        painter.setPen(palette().color(QPalette::Text));
        for (int i = 0; i < words.size(); ++i)
            drawLine(painter, {tag.left() + 6, tag.top() + 4 + i * lineHeight, tag.width() - 10, lineHeight},
                     words[i], face(12));
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
        painter.setBrush(Qt::NoBrush);
        for (size_t i = 0; i < points.size(); ++i) {
            const QPointF at = viewFromFrame(points[i]);
            painter.drawLine(at - QPointF(7, 0), at + QPointF(7, 0));
            painter.drawLine(at - QPointF(0, 7), at + QPointF(0, 7));
            if (i > 0 && (m_tool == Tool::Area || m_tool == Tool::Crop || m_tool == Tool::Patch))
                painter.drawRect(QRectF(viewFromFrame(points[i - 1]), at).normalized());
            else if (i > 0)
                painter.drawLine(viewFromFrame(points[i - 1]), at);
        }
    }
    if (m_tool == Tool::ThreeCorners) {
        const QString names[] = {tr("first"), tr("last of the top row"), tr("last of all")};
        paintTag(painter, tr("Click the outer corner of the chart's patch: %1.")
                              .arg(names[std::min<size_t>(2, m_clicked.size())]));
    } else if (m_tool == Tool::Ruler) {
        paintTag(painter, m_clicked.empty() ? tr("Click one end of a length that you know.")
                                            : tr("Click its other end."));
    } else if (m_tool == Tool::Area) {
        paintTag(painter, m_clicked.empty() ? tr("Click a corner of something neutral.")
                                            : tr("Click the opposite corner."));
    } else if (m_tool == Tool::Crop) {
        paintTag(painter, m_clicked.empty() ? tr("Click a corner of what is to be delivered.")
                                            : tr("Click the opposite corner."));
    } else if (m_tool == Tool::Patch) {
        paintTag(painter, m_clicked.empty()
                              ? tr("Click a corner of the patch; of a disc, of the square round it.")
                              : tr("Click the opposite corner."));
    } else if (m_tool == Tool::Line) {
        paintTag(painter, m_clicked.empty() ? tr("Click one end of a line that is to lie level or upright.")
                                            : tr("Click its other end."));
    } else if (m_tool == Tool::Square) {
        const QString names[] = {tr("top left"), tr("top right"), tr("bottom right"), tr("bottom left")};
        paintTag(
            painter,
            tr("Click the corner of the flat thing: %1.").arg(names[std::min<size_t>(3, m_clicked.size())]));
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

static size_t clicksOf(FrameView::Tool tool)
{
    return tool == FrameView::Tool::Square ? 4 : tool == FrameView::Tool::ThreeCorners ? 3 : 2;
}

void FrameView::clickTool(const PixelPoint &at)
{
    m_clicked.push_back(at);
    const auto tool = m_tool;
    if (m_clicked.size() == clicksOf(tool)) {
        const auto points = m_clicked;
        m_tool = Tool::None;
        if (tool == Tool::Ruler) {
            emit rulerDrawn(points[0], points[1]);
        } else if (tool == Tool::Area) {
            m_clicked.clear();
            emit areaDrawn(points[0], points[1]);
        } else if (tool == Tool::Crop || tool == Tool::Line) {
            m_clicked.clear();
            tool == Tool::Crop ? emit cropDrawn(points[0], points[1]) : emit lineDrawn(points[0], points[1]);
        } else if (tool == Tool::Patch) {
            m_clicked.clear();
            emit patchDrawn(points[0], points[1]);
        } else if (tool == Tool::Square) {
            m_clicked.clear();
            emit squareClicked(points);
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

const std::string &FrameView::idAt(int row, int column) const
{
    return m_chart.patches[size_t(row * m_chart.columns + column)].id;
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
                return idAt(row, column);
        }
    return {};
}

QPointF FrameView::patchOnView(const std::string &id) const
{
    const auto homography = m_placed ? homographyFrom(m_chart, m_corners, m_lens) : std::nullopt;
    for (int row = 0; homography && row < m_chart.rows; ++row)
        for (int column = 0; column < m_chart.columns; ++column)
            if (idAt(row, column) == id)
                return viewFromFrame(homography->at(patchCentre(m_chart, row, column)));
    return {};
}

} // namespace wavechroma::app
