#include "app/view/charts/limit_picture.h"

#include <QGuiApplication>
#include <QLinearGradient>
#include <QPainter>
#include <QPainterPath>
#include <QPalette>
#include <QRadialGradient>
#include <utility>

namespace wavechroma::app {

namespace {

constexpr double kSide = 20; ///< all pictures are drawn in a square of this, and scaled
const QRectF kPatch(3, 3, 14, 14);

void frame(QPainter &p, const QColor &ink)
{
    p.setPen(QPen(ink, 1.2));
    p.setBrush(Qt::NoBrush);
    p.drawRect(kPatch);
}

/// A patch that is filled anyhow.
void patch(QPainter &p, const QColor &ink, const QBrush &brush)
{
    p.fillRect(kPatch, brush);
    frame(p, ink);
}

/// The level of a patch, in a column, and the aim that it should reach.
void level(QPainter &p, const QColor &ink, double height, bool hasAim)
{
    p.fillRect(QRectF(6, 17 - height, 8, height), ink);
    p.setPen(QPen(ink, 1.2, hasAim ? Qt::SolidLine : Qt::DotLine));
    p.drawLine(QPointF(2, 6), QPointF(18, 6));
}

void dots(QPainter &p, const QColor &ink, int step)
{
    frame(p, ink);
    for (int y = 0; y < 3; ++y)
        for (int x = 0; x < 3; ++x)
            if ((x * 2 + y * step) % 3 != 0)
                p.fillRect(QRectF(5.5 + 4 * x + (y % 2), 5.5 + 4 * y, 2, 2), ink);
}

void gradient(QPainter &p, const QColor &ink)
{
    QLinearGradient across(kPatch.topLeft(), kPatch.bottomRight());
    across.setColorAt(0, Qt::transparent);
    across.setColorAt(1, ink);
    patch(p, ink, across);
}

void shadow(QPainter &p, const QColor &ink)
{
    QPainterPath half;
    half.addPolygon(QPolygonF({{8, 3}, {17, 3}, {17, 17}, {13, 17}}));
    p.fillPath(half, ink);
    frame(p, ink);
}

void glow(QPainter &p, const QColor &ink, double radius)
{
    QRadialGradient spot(QPointF(12, 8), radius);
    spot.setColorAt(0, Qt::transparent);
    spot.setColorAt(1, ink);
    patch(p, ink, spot);
}

/// Patches in rows; one of them may be covered.
void grid(QPainter &p, const QColor &ink, bool covered)
{
    for (int y = 0; y < 2; ++y)
        for (int x = 0; x < 3; ++x) {
            const QRectF one(2 + 6 * x, 4 + 7 * y, 4.5, 5);
            p.setPen(QPen(ink, 1));
            p.drawRect(one);
            if (!covered || (x == 1 && y == 1))
                p.fillRect(one, covered ? QBrush(ink) : QBrush(ink, Qt::Dense5Pattern));
        }
}

void edge(QPainter &p, const QColor &ink)
{
    QLinearGradient across(QPointF(6, 0), QPointF(14, 0));
    across.setColorAt(0, ink);
    across.setColorAt(1, Qt::transparent);
    patch(p, ink, across);
}

/// Errors as lengths beside their tolerance.
void lengths(QPainter &p, const QColor &ink, bool one)
{
    const double long_[] = {one ? 4.0 : 8.0, one ? 15.0 : 9.0, one ? 3.0 : 7.0};
    for (int i = 0; i < 3; ++i)
        p.fillRect(QRectF(2, 4 + 5 * i, long_[i], 3), ink);
    p.setPen(QPen(ink, 1.2, Qt::DotLine));
    p.drawLine(QPointF(12, 2), QPointF(12, 18));
}

void ruler(QPainter &p, const QColor &ink)
{
    p.setPen(QPen(ink, 1.2));
    p.drawRect(QRectF(2, 7, 16, 7));
    for (int i = 1; i < 5; ++i)
        p.drawLine(QPointF(2 + 3.2 * i, 7), QPointF(2 + 3.2 * i, i % 2 ? 9.5 : 11));
}

void clock(QPainter &p, const QColor &ink)
{
    p.setPen(QPen(ink, 1.2));
    p.drawEllipse(kPatch);
    p.drawPolyline(QPolygonF({{10, 5}, {10, 10}, {14, 12}}));
}

void barrel(QPainter &p, const QColor &ink)
{
    QPainterPath bowed(QPointF(4, 4));
    bowed.quadTo(10, 1, 16, 4);
    bowed.quadTo(19, 10, 16, 16);
    bowed.quadTo(10, 19, 4, 16);
    bowed.quadTo(1, 10, 4, 4);
    p.setPen(QPen(ink, 1.2));
    p.drawPath(bowed);
}

using Draw = void (*)(QPainter &, const QColor &);
const std::pair<const char *, Draw> kPictures[] = {
    {"exposure_aim", [](QPainter &p, const QColor &ink) { level(p, ink, 11, true); }},
    {"exposure_stops", [](QPainter &p, const QColor &ink) { level(p, ink, 8, true); }},
    {"exposure_stop_at", [](QPainter &p, const QColor &ink) { level(p, ink, 3, true); }},
    {"clipped_share", [](QPainter &p, const QColor &ink) { level(p, ink, 15, false); }},
    {"patch_error", [](QPainter &p, const QColor &ink) { dots(p, ink, 1); }},
    {"noise", [](QPainter &p, const QColor &ink) { dots(p, ink, 2); }},
    {"unevenness", gradient},
    {"unevenness_stop_at", gradient},
    {"shadow_stops", shadow},
    {"shadow_stop_at", shadow},
    {"glare", [](QPainter &p, const QColor &ink) { glow(p, ink, 5); }},
    {"flare", [](QPainter &p, const QColor &ink) { glow(p, ink, 13); }},
    {"flare_stop_at", [](QPainter &p, const QColor &ink) { glow(p, ink, 13); }},
    {"match", [](QPainter &p, const QColor &ink) { grid(p, ink, false); }},
    {"misfit", [](QPainter &p, const QColor &ink) { grid(p, ink, true); }},
    {"blur_pixels", edge},
    {"mean_de00", [](QPainter &p, const QColor &ink) { lengths(p, ink, false); }},
    {"patch_de00", [](QPainter &p, const QColor &ink) { lengths(p, ink, true); }},
    {"mean_de94", [](QPainter &p, const QColor &ink) { lengths(p, ink, false); }},
    {"patch_de94", [](QPainter &p, const QColor &ink) { lengths(p, ink, true); }},
    {"mean_de94_textiles", [](QPainter &p, const QColor &ink) { lengths(p, ink, false); }},
    {"patch_de94_textiles", [](QPainter &p, const QColor &ink) { lengths(p, ink, true); }},
    {"mean_de76", [](QPainter &p, const QColor &ink) { lengths(p, ink, false); }},
    {"patch_de76", [](QPainter &p, const QColor &ink) { lengths(p, ink, true); }},
    {"chart_days", clock},
    {"chart_frames", clock},
    {"scale_error", ruler},
    {"distortion", barrel},
};

} // namespace

QIcon limitPicture(const std::string &key, const QPalette &palette)
{
    for (const auto &[name, draw] : kPictures) {
        if (key != name)
            continue;
        const double ratio = qGuiApp->devicePixelRatio();
        QPixmap picture(qRound(kSide * ratio), qRound(kSide * ratio));
        picture.setDevicePixelRatio(ratio);
        picture.fill(Qt::transparent);
        QPainter painter(&picture);
        painter.setRenderHint(QPainter::Antialiasing);
        draw(painter, palette.color(QPalette::Text));
        return picture;
    }
    return {};
}

} // namespace wavechroma::app
