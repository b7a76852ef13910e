#pragma once
#include "app/view/widgets/stop.h"

namespace wavechroma::app {

/// Stop 3: a plane. How free colour may be runs from left to right, tone as shot or fitted from top to
/// bottom; each crossing shows its unseen error as length and figure. The recommended one is a white tag with
/// its sentence above; below, the lean of colour in steps, and what was measured of the chosen one. A click
/// or the arrows choose a crossing for the whole job, Home leaves it to each reading again, the space bar
/// flicks to the recommended one and back.
class FitStop : public Stop
{
    Q_OBJECT
public:
    explicit FitStop(QWidget *parent = nullptr);
    QString title() const override { return tr("Fit"); }
    QString figure(const BenchFacts &facts) const override;
    QString sentence(const BenchFacts &facts) const override;
    int paintMiniature(QPainter &painter, const QRect &where, const BenchFacts &facts) const override;
    void show(const Facts &facts) override;
    [[nodiscard]] QRect cellRect(const Parts &parts) const; ///< empty when there is none
    [[nodiscard]] QRect autoRect() const;                   ///< leaves the choice to each reading
    enum Amount { Reds, Chroma, Contrast };
    [[nodiscard]] QRect stepRect(Amount amount, int step) const; ///< of the scale, −4…4

signals:
    void partsAsked(const wavechroma::Parts &parts);
    void leanAsked(const wavechroma::ColourLean &lean);

protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

private:
    [[nodiscard]] std::vector<std::string> tones() const; ///< that there are crossings of, in order
    [[nodiscard]] int planeTop() const;
    [[nodiscard]] int leanTop() const;
    void paintAxis(QPainter &painter) const;
    void paintCell(QPainter &painter, const Calibration &calibration) const;
    void paintScale(QPainter &painter, Amount amount) const;
    void paintMeasured(QPainter &painter) const;
    void step(int colour, int tone);
    Parts m_before = plainParts(); ///< the crossing that a flick left
};

} // namespace wavechroma::app
