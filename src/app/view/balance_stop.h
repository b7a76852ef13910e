#pragma once
#include "app/view/stop.h"

namespace wavechroma::app {

/// Stop 2: the neutrals' levels per channel, before and after the multipliers, and the light they stand for.
class BalanceStop : public Stop
{
    Q_OBJECT
public:
    explicit BalanceStop(QWidget *parent = nullptr);
    QString title() const override { return tr("Balance"); }
    QString figure(const BenchFacts &facts) const override;
    QString sentence(const BenchFacts &facts) const override;
    int paintMiniature(QPainter &painter, const QRect &where, const BenchFacts &facts) const override;
    void show(const BenchFacts &facts) override;

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    BenchFacts m_facts;
};

} // namespace wavechroma::app
