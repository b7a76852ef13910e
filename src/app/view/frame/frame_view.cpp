#include "app/view/frame/frame_view.h"

#include "app/model/upright.h"
#include "app/view/widgets/look.h"

#include <QPainter>
#include <cmath>

namespace wavechroma::app {

static constexpr double kMostZoom = 16;

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
    const auto &frame = *m_frame->frame;
    return uprightTransform(frame.orientation, frame.width, frame.height);
}

QTransform FrameView::transform() const
{
    return upright() * QTransform::fromScale(m_zoom, m_zoom) *
           QTransform::fromTranslate(m_offset.x(), m_offset.y());
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
    const QSizeF size =
        upright().mapRect(QRectF(0, 0, m_frame->frame->width, m_frame->frame->height)).size() * m_zoom;
    const auto clamp = [](double offset, double picture, double window) {
        const double keep = std::min(80.0, window / 2); // so much of the picture always stays in sight
        return std::clamp(offset, keep - picture, window - keep);
    };
    m_offset = {clamp(m_offset.x(), size.width(), width()), clamp(m_offset.y(), size.height(), height())};
}

void FrameView::paintPicture(QPainter &painter, const QTransform &view) const
{
    drawVersion(painter, view, *m_frame, m_pixels, m_pixelArea);
}

void FrameView::drawVersion(QPainter &painter, const QTransform &view, const OpenFrame &frame,
                            const QImage &pixels, const QRect &pixelArea) const
{
    // the smallest level that is not coarser than the screen
    const double zoom = std::sqrt(std::abs(view.determinant()));
    qsizetype level = 0;
    while (level + 1 < frame.levels.size() && zoom * frame.block * std::pow(2.0, double(level + 1)) <= 1.01)
        ++level;
    while (level + 1 < frame.levels.size() && frame.levels[level].isNull())
        ++level; // still being coloured
    const auto &image = frame.levels[level];
    const double scale = frame.block * std::pow(2.0, double(level));
    painter.save();
    painter.setTransform(QTransform::fromScale(scale, scale) * view, true);
    painter.setRenderHint(QPainter::SmoothPixmapTransform, zoom * scale < 3);
    painter.drawImage(QPointF(0, 0), image);
    painter.restore();
    if (pixelArea.isEmpty() || zoom * frame.block <= 1.01)
        return;
    painter.save();
    painter.setTransform(view, true);
    painter.setRenderHint(QPainter::SmoothPixmapTransform, zoom < 3);
    painter.drawImage(pixelArea.topLeft(), pixels);
    painter.restore();
}

void FrameView::setPixels(const QImage &image, const QRect &area)
{
    m_pixels = image;
    m_pixelArea = area;
    update();
}

QRect FrameView::pixelsInSight() const
{
    if (!m_frame || !m_frame->frame || m_frame->block < 2)
        return {};
    if (m_zoom * m_frame->block > 1.01)
        return transform().inverted().mapRect(QRectF(rect())).toAlignedRect();
    const bool onCorner = m_placed && m_active >= 0 && m_active < 4;
    if (!m_loupe && !onCorner)
        return {};
    const auto at = onCorner ? m_corners[size_t(m_active)] : cursorPoint();
    constexpr int kHalf = 64; // the loupe shows twice as large, at least
    return {int(at.x) - kHalf, int(at.y) - kHalf, 2 * kHalf, 2 * kHalf};
}

QPointF FrameView::wholeHandle() const
{
    QPointF sum;
    for (const auto &c : m_corners)
        sum += viewFromFrame(c) / 4;
    return sum;
}

QPolygonF FrameView::outlineOf(const PatchPlace &place, const Homography &onFrame) const
{
    constexpr int kSides = 36;
    QPolygonF out;
    for (int i = 0; i < (place.isDisc ? kSides : 4); ++i) {
        const double angle = 2 * M_PI * i / kSides,
                     x = place.isDisc ? std::cos(angle) : (i == 1 || i == 2 ? 1 : -1),
                     y = place.isDisc ? std::sin(angle) : (i >= 2 ? 1 : -1);
        out << viewFromFrame(onFrame.at({place.x + x * place.widthMm / 2, place.y + y * place.heightMm / 2}));
    }
    return out;
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
                if (const auto &id = idAt(row, column);
                    std::find(m_leftOut.begin(), m_leftOut.end(), id) != m_leftOut.end()) {
                    outline(QPolygonF{window[0], window[2], window[0]}, 2);
                    outline(QPolygonF{window[1], window[3], window[1]}, 2);
                }
            }
    for (const auto &place : m_chart.places) // whose sizes differ
        if (homography)
            outline(outlineOf(place, *homography), 0.6);
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

void FrameView::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    if (!m_frame || m_frame->levels.isEmpty()) {
        painter.setPen(palette().color(QPalette::WindowText));
        painter.setFont(face(kAnswer));
        painter.drawText(rect().adjusted(40, 40, -40, -40), Qt::AlignCenter | Qt::TextWordWrap, m_message);
        return;
    }
    paintPicture(painter, transform());
    if (const QRect seen = pixelsInSight(); !seen.isEmpty())
        emit pixelsSeen(seen);
    if (m_hatched)
        drawHatching(painter, m_hatching, transform());
    const bool onCorner = m_placed && m_active >= 0 && m_active < 4 && (m_dragging != None || hasFocus());
    if (m_placed)
        paintPlacement(painter);
    paintOver(painter);
    const auto value = m_loupe && m_frame->frame && !onCorner
                           ? valueAt(*m_frame->frame, cursorPoint().x, cursorPoint().y)
                           : std::nullopt;
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

} // namespace wavechroma::app
