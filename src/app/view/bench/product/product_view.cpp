#include "app/view/bench/product/product_view.h"

#include "app/model/spoken.h"
#include "app/view/widgets/look.h"

#include "core/tasks/crop_task.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QWheelEvent>
#include <cmath>

namespace wavechroma::app {

static constexpr double kEdgeGrip = 8;

static QRegion regionOf(const std::vector<uint8_t> &cells, int width, int height)
{
    QRegion out;
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width;) {
            const auto *row = &cells[size_t(y) * size_t(width)];
            int end = x;
            while (end < width && row[end])
                ++end;
            if (end > x)
                out += QRect(x, y, end - x, 1);
            x = end + 1;
        }
    return out;
}

ProductView::ProductView(QWidget *parent) : FrameView(parent)
{
    setEditable(false); // no chart lies on it
    setAccessibleName(tr("Product frame"));
}

void ProductView::show(const std::shared_ptr<const ProductFacts> &facts)
{
    const bool isOtherFrame = !facts->frame || !m_facts->frame || facts->frame->id != m_facts->frame->id;
    if (facts->doubted.isOver != m_facts->doubted.isOver)
        m_doubted = regionOf(facts->doubted.isOver, facts->doubted.width, facts->doubted.height);
    if (facts->outsideOf != m_facts->outsideOf || facts->outside != m_facts->outside)
        m_outside = facts->outside && facts->outsideOf >= 0
                        ? regionOf(facts->outside->isOutside[size_t(facts->outsideOf)], facts->outside->width,
                                   facts->outside->height)
                        : QRegion();
    m_facts = facts;
    if (isOtherFrame) {
        m_dragged.reset();
        m_other.reset();
    }
    update();
}

void ProductView::setOther(std::shared_ptr<const OpenFrame> other, const QString &name)
{
    m_other = std::move(other);
    m_otherName = name;
    update();
}

void ProductView::setOtherPixels(const QImage &image, const QRect &area)
{
    m_otherPixels = image;
    m_otherArea = area;
    update();
}

void ProductView::setFlicked(bool on)
{
    m_isFlicked = on;
    update();
}

void ProductView::setSplit(bool on)
{
    m_split = on ? 0.5 : -1;
    update();
}

void ProductView::pick(const QString &name)
{
    if (m_picked == name)
        return;
    m_picked = name;
    emit probePicked(name);
    update();
}

void ProductView::paintPicture(QPainter &painter, const QTransform &view) const
{
    const bool hasOther = m_other && frame() && m_other->id == frame()->id;
    if (m_isFlicked && hasOther)
        return drawVersion(painter, view, *m_other, m_otherPixels, m_otherArea);
    FrameView::paintPicture(painter, view);
    if (!isSplit() || !hasOther)
        return;
    painter.save();
    painter.setClipRect(QRectF(0, 0, m_split * width(), height()), Qt::IntersectClip);
    drawVersion(painter, view, *m_other, m_otherPixels, m_otherArea);
    painter.restore();
}

/// Black under white, so that it shows on every colour.
void ProductView::paintProbe(QPainter &painter, const ProbePlace &place, bool isProposed, bool isPicked) const
{
    const QPointF at = viewFromFrame({place.x, place.y});
    const double r = std::max(4.0, place.radius * zoom());
    painter.setBrush(Qt::NoBrush);
    for (const auto &[color, wide] : {std::pair{Qt::black, 2.0}, {Qt::white, 0.0}}) {
        QPen pen(color, (isPicked ? 3 : 1.6) + wide, isProposed ? Qt::DashLine : Qt::SolidLine);
        painter.setPen(pen);
        painter.drawEllipse(at, r, r);
    }
    const QString name = text(place.name);
    const QFont font = face(13, isPicked ? 700 : 600);
    const QRectF words(at.x() - 90, at.y() + r + 2, 180, 18);
    painter.setFont(font);
    painter.setPen(QColor(0, 0, 0, 190));
    for (const QPointF &off : {QPointF(1, 0), QPointF(-1, 0), QPointF(0, 1), QPointF(0, -1)})
        painter.drawText(words.translated(off), Qt::AlignHCenter | Qt::AlignTop, name);
    painter.setPen(Qt::white);
    painter.drawText(words, Qt::AlignHCenter | Qt::AlignTop, name);
}

/// White lines with black ones beside them, over cells of the picture; rising, or falling to the right.
void ProductView::paintHatch(QPainter &painter, const QRegion &region, double block, bool isRising) const
{
    if (region.isEmpty())
        return;
    painter.save();
    const auto cells = QTransform::fromScale(block, block) * transform();
    QPainterPath shape;
    shape.addRegion(region);
    painter.setClipPath(cells.map(shape), Qt::IntersectClip);
    const double from = isRising ? height() : 0, to = isRising ? 0 : height();
    for (const auto &[color, shift] :
         {std::pair{QColor(0, 0, 0, 200), 1.2}, {QColor(255, 255, 255, 230), 0.0}}) {
        painter.setPen(QPen(color, 1.2));
        for (int at = -height(); at < width(); at += 11)
            painter.drawLine(QPointF(at, from + shift), QPointF(at + height(), to + shift));
    }
    painter.restore();
}

void ProductView::paintEdge(QPainter &painter) const
{
    const double x = m_split * width();
    painter.setPen(QPen(Qt::black, 4));
    painter.drawLine(QPointF(x, 0), QPointF(x, height()));
    painter.setPen(QPen(Qt::white, 2));
    painter.drawLine(QPointF(x, 0), QPointF(x, height()));
    const QFont font = face(kBody, 600);
    const auto tag = [&](const QString &words, bool left) {
        const int wide = QFontMetrics(font).horizontalAdvance(words) + 18;
        const QRect where(int(x) + (left ? -wide - 5 : 5), 8, wide, 26);
        painter.fillRect(where, palette().base());
        painter.setPen(palette().color(QPalette::Text));
        drawLine(painter, where, words, font, Qt::AlignCenter);
    };
    tag(m_otherName, true);
    tag(tr("now"), false);
}

/// What is not delivered lies in the shade.
void ProductView::paintCrop(QPainter &painter) const
{
    if (!m_facts->frame || !m_facts->frame->crop)
        return;
    QPolygonF inside;
    for (const auto &corner : cornersOnFrame(*m_facts->frame, *m_facts->frame->crop))
        inside << viewFromFrame(corner);
    const auto width = double(m_facts->frame->width), height = double(m_facts->frame->height);
    QPolygonF whole;
    for (const auto &corner : {PixelPoint{0, 0}, {width, 0}, {width, height}, {0, height}})
        whole << viewFromFrame(corner);
    QPainterPath shade, kept;
    shade.addPolygon(whole);
    kept.addPolygon(inside);
    painter.fillPath(shade.subtracted(kept), QColor(0, 0, 0, 140));
    for (const auto &[colour, thick] : {std::pair{Qt::black, 3}, {Qt::white, 1}}) {
        painter.setPen(QPen(colour, thick));
        painter.setBrush(Qt::NoBrush);
        painter.drawPolygon(inside);
    }
}

void ProductView::paintOver(QPainter &painter) const
{
    painter.setRenderHint(QPainter::Antialiasing);
    paintCrop(painter);
    if (!m_isFlicked) {
        paintHatch(painter, m_doubted, m_facts->doubted.block, true);
        if (m_facts->outside)
            paintHatch(painter, m_outside, m_facts->outside->block, false);
    }
    const auto &probes = m_facts->probes.probes;
    for (const auto &probe : probes) {
        const bool isPicked = text(probe.place.name) == m_picked;
        const bool isDragged = m_dragged && m_dragged->name == probe.place.name;
        if (!m_isFlicked || isPicked)
            paintProbe(painter, isDragged ? *m_dragged : probe.place, false, isPicked);
    }
    for (const auto &place : m_facts->proposed)
        if (!m_isFlicked)
            paintProbe(painter, place, true, false);
    if (isSplit() && m_other && !m_isFlicked)
        paintEdge(painter);
    if (m_isFlicked && m_other) {
        const QFont font = face(kAnswer, 600);
        const QRect tag(12, 8, QFontMetrics(font).horizontalAdvance(m_otherName) + 24, 32);
        painter.fillRect(tag, palette().base());
        painter.setPen(palette().color(QPalette::Text));
        drawLine(painter, tag, m_otherName, font, Qt::AlignCenter);
    }
}

const Probe *ProductView::probeAt(const QPointF &point) const
{
    const Probe *best = nullptr;
    double least = 1e9;
    for (const auto &probe : m_facts->probes.probes) {
        const QPointF at = viewFromFrame({probe.place.x, probe.place.y});
        const double d = std::hypot(at.x() - point.x(), at.y() - point.y());
        if (d <= std::max(9.0, probe.place.radius * zoom()) && d < least) {
            best = &probe;
            least = d;
        }
    }
    return best;
}

const Probe *ProductView::pickedProbe() const
{
    for (const auto &probe : m_facts->probes.probes)
        if (text(probe.place.name) == m_picked)
            return &probe;
    return nullptr;
}

QPointF ProductView::probeOnView(const std::string &name) const
{
    for (const auto &probe : m_facts->probes.probes)
        if (probe.place.name == name)
            return viewFromFrame({probe.place.x, probe.place.y});
    return {};
}

bool ProductView::isOnEdge(const QPointF &point) const
{
    return isSplit() && std::abs(point.x() - m_split * width()) < kEdgeGrip;
}

void ProductView::mousePressEvent(QMouseEvent *event)
{
    m_from = event->position();
    m_dragsEdge = event->button() == Qt::LeftButton && isOnEdge(m_from) && !isBusyWithTool();
    const auto *probe =
        event->button() == Qt::LeftButton && !m_dragsEdge && !isBusyWithTool() ? probeAt(m_from) : nullptr;
    if (m_dragsEdge)
        return;
    if (probe) {
        m_dragged = probe->place;
        pick(text(probe->place.name));
        return;
    }
    FrameView::mousePressEvent(event);
}

void ProductView::mouseMoveEvent(QMouseEvent *event)
{
    if (m_dragsEdge) {
        m_split = std::clamp(event->position().x() / width(), 0.0, 1.0);
        update();
        return;
    }
    if (m_dragged && event->buttons() != Qt::NoButton) {
        const auto from = frameFromView(m_from), to = frameFromView(event->position());
        m_dragged->x += to.x - from.x;
        m_dragged->y += to.y - from.y;
        m_from = event->position();
        emit probeLaid(*m_dragged, false);
        update();
        return;
    }
    FrameView::mouseMoveEvent(event);
    if (isOnEdge(event->position()))
        setCursor(Qt::SplitHCursor);
    else if (probeAt(event->position()))
        setCursor(Qt::SizeAllCursor);
}

void ProductView::mouseReleaseEvent(QMouseEvent *event)
{
    if (m_dragged) {
        const auto *was = pickedProbe();
        if (was && !(was->place == *m_dragged))
            emit probeLaid(*m_dragged, true);
        m_dragged.reset();
        return;
    }
    if (!m_dragsEdge)
        FrameView::mouseReleaseEvent(event);
    m_dragsEdge = false;
}

void ProductView::mouseDoubleClickEvent(QMouseEvent *event)
{
    if (probeAt(event->position()))
        emit targetAsked();
    else
        emit newProbeAsked(frameFromView(event->position()));
}

void ProductView::wheelEvent(QWheelEvent *event)
{
    const auto *probe = probeAt(event->position());
    if (!probe)
        return FrameView::wheelEvent(event);
    auto place = probe->place;
    place.radius *= std::pow(1.0015, event->angleDelta().y());
    emit probeLaid(place, true);
}

bool ProductView::nudge(const QKeyEvent *event)
{
    const auto *probe = pickedProbe();
    const double step = event->modifiers() & Qt::ShiftModifier ? 10 : 1;
    QPointF by;
    switch (event->key()) {
    case Qt::Key_Left:
        by = {-step, 0};
        break;
    case Qt::Key_Right:
        by = {step, 0};
        break;
    case Qt::Key_Up:
        by = {0, -step};
        break;
    case Qt::Key_Down:
        by = {0, step};
        break;
    case Qt::Key_BracketLeft:
    case Qt::Key_BracketRight:
        break;
    default:
        return false;
    }
    if (!probe) {
        if (by.x() != 0)
            emit stepAsked(by.x() > 0 ? 1 : -1);
        return by.x() != 0;
    }
    auto place = probe->place;
    const auto to = frameFromView(viewFromFrame({place.x, place.y}) + by * zoom());
    place.x = to.x;
    place.y = to.y;
    if (event->key() == Qt::Key_BracketLeft || event->key() == Qt::Key_BracketRight)
        place.radius *= event->key() == Qt::Key_BracketLeft ? 1 / 1.1 : 1.1;
    m_nudged = true;
    emit probeLaid(place, false);
    return true;
}

void ProductView::keyPressEvent(QKeyEvent *event)
{
    if (event->key() == Qt::Key_B && event->modifiers() == Qt::NoModifier) {
        if (!event->isAutoRepeat())
            emit flickAsked(true);
        return;
    }
    if (event->key() == Qt::Key_PageDown || event->key() == Qt::Key_PageUp)
        return emit stepAsked(event->key() == Qt::Key_PageDown ? 1 : -1);
    if (event->key() == Qt::Key_Tab && !m_facts->probes.probes.empty()) {
        const auto &probes = m_facts->probes.probes;
        size_t next = 0;
        for (size_t i = 0; i < probes.size(); ++i)
            if (text(probes[i].place.name) == m_picked)
                next = i + 1;
        pick(next < probes.size() ? text(probes[next].place.name) : QString());
        return;
    }
    if (event->key() == Qt::Key_Escape && !m_picked.isEmpty())
        return pick({});
    if (isBusyWithTool() || !nudge(event))
        FrameView::keyPressEvent(event);
}

void ProductView::keyReleaseEvent(QKeyEvent *event)
{
    if (event->key() == Qt::Key_B && !event->isAutoRepeat() && m_isFlicked)
        return emit flickAsked(false);
    if (m_nudged && !event->isAutoRepeat()) {
        m_nudged = false;
        if (const auto *probe = pickedProbe())
            emit probeLaid(probe->place, true);
    }
    FrameView::keyReleaseEvent(event);
}

void ProductView::focusOutEvent(QFocusEvent *event)
{
    if (m_isFlicked)
        emit flickAsked(false);
    FrameView::focusOutEvent(event);
}

} // namespace wavechroma::app
