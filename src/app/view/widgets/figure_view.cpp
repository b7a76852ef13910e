#include "app/view/widgets/figure_view.h"

#include "app/model/spoken.h"
#include "app/view/widgets/look.h"
#include "app/view/widgets/patch_colors.h"

#include <cmath>

namespace wavechroma::app {

namespace {

constexpr int kMargin = 10;

class FigurePainter
{
public:
    FigurePainter(QPainter &painter, const QPalette &palette, double scale)
        : m_painter(painter), m_palette(palette), m_scale(scale)
    {
    }

    void operator()(const Box &box) const
    {
        m_painter.fillRect(QRectF(s(box.x), s(box.y), s(box.width), s(box.height)), colour(box.fill));
    }
    void operator()(const Disc &disc) const
    {
        m_painter.setPen(disc.line ? QPen(colour(*disc.line), 1) : QPen(Qt::NoPen));
        m_painter.setBrush(colour(disc.fill));
        m_painter.drawEllipse(QPointF(s(disc.x), s(disc.y)), s(disc.radius), s(disc.radius));
    }
    void operator()(const Stroke &stroke) const
    {
        QPen pen(colour(stroke.ink), std::max(1., s(stroke.width)));
        if (stroke.isDashed)
            pen.setDashPattern({4, 3});
        m_painter.setPen(pen);
        m_painter.setBrush(Qt::NoBrush);
        QPolygonF line;
        for (const auto &point : stroke.points)
            line << QPointF(s(point.x), s(point.y));
        m_painter.drawPolyline(line);
    }
    void operator()(const Label &label) const
    {
        const auto font = face(int(std::lround(s(label.size))), label.isBold ? 600 : 400);
        m_painter.setFont(font);
        m_painter.setPen(colour(label.ink));
        const auto words = text(label.text);
        const double wide = QFontMetricsF(font).horizontalAdvance(words);
        const double back = label.from == Label::From::Left     ? 0
                            : label.from == Label::From::Middle ? wide / 2
                                                                : wide;
        m_painter.drawText(QPointF(s(label.x) - back, s(label.y)), words);
    }

private:
    [[nodiscard]] double s(double points) const { return m_scale * points; }
    /// Between the ink and the paper of the surround.
    [[nodiscard]] QColor colour(const Ink &ink) const
    {
        if (ink.color)
            return screenColor(*ink.color);
        const auto dark = m_palette.color(QPalette::Text), light = m_palette.color(QPalette::Base);
        const double share = ink.grey;
        const auto mixed = [&](int from, int to) { return int(std::lround(from + share * (to - from))); };
        return {mixed(dark.red(), light.red()), mixed(dark.green(), light.green()),
                mixed(dark.blue(), light.blue())};
    }

    QPainter &m_painter;
    const QPalette &m_palette;
    double m_scale;
};

} // namespace

void paintFigure(QPainter &painter, const QPalette &palette, const Figure &figure, double scale)
{
    painter.setRenderHint(QPainter::Antialiasing);
    const FigurePainter paint(painter, palette, scale);
    for (const auto &shape : figure.shapes)
        std::visit(paint, shape);
}

FigureView::FigureView(double scale, QWidget *parent) : QWidget(parent), m_scale(scale) {}

void FigureView::show(Figure figure)
{
    m_figure = std::move(figure);
    setAccessibleName(text(m_figure.said));
    updateGeometry();
    update();
}

QSize FigureView::sizeHint() const
{
    return {int(std::ceil(m_scale * m_figure.width)) + 2 * kMargin,
            int(std::ceil(m_scale * m_figure.height)) + 2 * kMargin};
}

void FigureView::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    painter.fillRect(QRect(QPoint(0, 0), sizeHint()), palette().brush(QPalette::Base));
    painter.translate(kMargin, kMargin);
    paintFigure(painter, palette(), m_figure, m_scale);
}

} // namespace wavechroma::app
