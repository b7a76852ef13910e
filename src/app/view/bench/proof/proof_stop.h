#pragma once
#include "app/view/widgets/stop.h"

class QLabel;

namespace wavechroma::app {

class AbPlot;
class ErrorList;
class RingChart;

/// Stop 4: the chart laid out flat, errors worst first, the a*b* plot, and what it comes to.
class ProofStop : public Stop
{
    Q_OBJECT
public:
    explicit ProofStop(QWidget *parent = nullptr);
    QString title() const override { return tr("Proof"); }
    QString figure(const BenchFacts &facts) const override;
    QString sentence(const BenchFacts &facts) const override;
    int paintMiniature(QPainter &painter, const QRect &where, const BenchFacts &facts) const override;
    void show(const Facts &facts) override;
    void highlight(const QString &patch);
    [[nodiscard]] ErrorList *errors() const { return m_errors; }
    [[nodiscard]] RingChart *rings() const { return m_rings; }

private:
    RingChart *m_rings;
    ErrorList *m_errors;
    AbPlot *m_plot;
    QLabel *m_summary, *m_empty;
    QWidget *m_content;
};

} // namespace wavechroma::app
