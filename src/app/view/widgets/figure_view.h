#pragma once
#include "core/figures/figure.h"

#include <QPainter>
#include <QWidget>

namespace wavechroma::app {

/// Paints a figure: inks are greys between the surround's ink and its paper, colours are the monitor's.
/// `scale`: pixels a point.
void paintFigure(QPainter &painter, const QPalette &palette, const Figure &figure, double scale);

/// One figure on paper.
class FigureView : public QWidget
{
    Q_OBJECT
public:
    explicit FigureView(double scale, QWidget *parent = nullptr);
    void show(Figure figure);
    [[nodiscard]] QSize sizeHint() const override;
    [[nodiscard]] QSize minimumSizeHint() const override { return sizeHint(); }

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    Figure m_figure;
    double m_scale;
};

} // namespace wavechroma::app
