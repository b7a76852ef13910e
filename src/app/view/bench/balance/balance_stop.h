#pragma once
#include "app/view/widgets/painted_list.h"
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

    [[nodiscard]] PaintedList *greys() const { return m_greys; }
    [[nodiscard]] PaintedList *ladder() const { return m_ladder; }
    [[nodiscard]] PaintedList *leans() const { return m_leans; } ///< −4, −2, 0, +2, +4 steps warmer

signals:
    void greysAsked(const std::vector<std::string> &patches);
    void lightAsked(const wavechroma::Temperature &light);
    void leanAsked(const wavechroma::Lean &lean);

protected:
    void paintEvent(QPaintEvent *event) override;
    void resizeEvent(QResizeEvent *event) override;

private:
    void layOut();
    void pickGrey(int index, Qt::KeyboardModifiers with);
    void paintGrey(QPainter &painter, const QRect &area, int index) const;
    void paintRung(QPainter &painter, const QRect &area, int index) const;
    void paintLean(QPainter &painter, const QRect &area, int index) const;
    void paintAnswer(QPainter &painter) const;
    [[nodiscard]] bool hasBalance() const { return m_facts->balance && m_facts->reading; }
    [[nodiscard]] int answerTop() const;
    [[nodiscard]] int sourceRow() const;
    [[nodiscard]] int nearestRung() const;

    PaintedList *m_greys, *m_ladder, *m_leans;
};

} // namespace wavechroma::app
