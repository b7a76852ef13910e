#pragma once
#include "app/model/frame_editor.h"

#include <QWidget>

class QCustomPlot;

namespace wavechroma::app {

/// The a*b* plane: a tail from each reference to its result, and round the reference the true shape of the
/// tolerance, the curve of that ΔE2000 at the reference's lightness. The wheel zooms, a drag moves, a double
/// click shows all.
class AbPlot : public QWidget
{
    Q_OBJECT
public:
    explicit AbPlot(QWidget *parent = nullptr);
    void show(const Facts &facts);
    void highlight(const QString &patch);

protected:
    void changeEvent(QEvent *event) override;

private:
    void rebuild();
    void useColors();
    QCustomPlot *m_plot;
    Facts m_facts = std::make_shared<const BenchFacts>();
    QString m_highlighted;
};

/// Points of the plane at distance `difference` (ΔE2000, equal L*) from a colour, as a closed curve of
/// `count` points.
[[nodiscard]] std::vector<std::pair<double, double>> toleranceCurve(const Lab &centre, double difference,
                                                                    int count);

} // namespace wavechroma::app
