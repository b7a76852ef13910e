#pragma once
#include "app/view/widgets/stop.h"

namespace wavechroma::app {

/// Stop 2: the neutrals behind the multipliers with what is left of cast on each, the ladder of lights, the
/// lean. A click on a grey takes the balance from it (with Ctrl: from it, too), one on a rung from that
/// light, one on a small chart leans that way.
class BalanceStop : public Stop
{
    Q_OBJECT
public:
    explicit BalanceStop(QWidget *parent = nullptr);
    QString title() const override { return tr("Balance"); }
    QString figure(const BenchFacts &facts) const override;
    QString sentence(const BenchFacts &facts) const override;
    int paintMiniature(QPainter &painter, const QRect &where, const BenchFacts &facts) const override;
    void show(const Facts &facts) override;

    [[nodiscard]] QRect greyRect(int index) const;
    [[nodiscard]] QRect rungRect(int index) const;
    [[nodiscard]] QRect leanRect(int index) const; ///< −4, −2, 0, +2, +4 steps warmer

signals:
    void greysAsked(const std::vector<std::string> &patches);
    void lightAsked(const wavechroma::Temperature &light);
    void leanAsked(const wavechroma::Lean &lean);

protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

private:
    void paintGrey(QPainter &painter, int index) const;
    void paintLadder(QPainter &painter) const;
    void paintLean(QPainter &painter, int index) const;
    void paintAnswer(QPainter &painter) const;
    [[nodiscard]] int answerTop() const;
    [[nodiscard]] int nearestRung() const;
};

} // namespace wavechroma::app
