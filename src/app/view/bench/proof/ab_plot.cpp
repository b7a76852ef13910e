#include "app/view/bench/proof/ab_plot.h"

#include "app/view/widgets/look.h"
#include "app/view/widgets/patch_colors.h"
#include "core/color/de2000.h"

#include <QEvent>
#include <QVBoxLayout>
#include <cmath>
#include <numbers>
#include <qcustomplot.h>

namespace wavechroma::app {

std::vector<std::pair<double, double>> toleranceCurve(const Lab &centre, double difference, int count)
{
    std::vector<std::pair<double, double>> curve;
    for (int i = 0; i < count; ++i) {
        const double angle = 2 * std::numbers::pi * i / count, da = std::cos(angle), db = std::sin(angle);
        double inside = 0, outside = 1;
        const auto at = [&](double r) {
            return de2000({centre.l, centre.a + r * da, centre.b + r * db}, centre);
        };
        while (at(outside) < difference && outside < 300)
            outside *= 2;
        for (int round = 0; round < 30; ++round) {
            const double middle = (inside + outside) / 2;
            (at(middle) < difference ? inside : outside) = middle;
        }
        curve.emplace_back(centre.a + inside * da, centre.b + inside * db);
    }
    return curve;
}

AbPlot::AbPlot(QWidget *parent) : QWidget(parent), m_plot(new QCustomPlot)
{
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(m_plot);
    setMinimumSize(200, 200);
    setAccessibleName(tr("Plot of a* and b*"));
    m_plot->setInteractions(QCP::iRangeDrag | QCP::iRangeZoom);
    m_plot->xAxis->setLabel(tr("a*  green to red"));
    m_plot->yAxis->setLabel(tr("b*  blue to yellow"));
    connect(m_plot, &QCustomPlot::mouseDoubleClick, this, [this] { rebuild(); });
    useColors();
}

void AbPlot::useColors()
{
    const QColor ink = palette().color(QPalette::WindowText), line = palette().color(QPalette::Mid);
    m_plot->setBackground(palette().color(QPalette::Window));
    for (auto *axis : {m_plot->xAxis, m_plot->yAxis}) {
        axis->setBasePen(QPen(line));
        axis->setTickPen(QPen(line));
        axis->setSubTickPen(Qt::NoPen);
        axis->setTickLabelColor(ink);
        axis->setLabelColor(ink);
        axis->setTickLabelFont(face(13));
        axis->setLabelFont(face(13));
        axis->grid()->setPen(Qt::NoPen);
        axis->grid()->setZeroLinePen(QPen(line));
    }
}

void AbPlot::changeEvent(QEvent *event)
{
    if (event->type() == QEvent::PaletteChange) {
        useColors();
        rebuild();
    }
    QWidget::changeEvent(event);
}

void AbPlot::show(const Facts &facts)
{
    m_facts = facts;
    rebuild();
}

void AbPlot::highlight(const QString &patch)
{
    if (patch == m_highlighted)
        return;
    m_highlighted = patch;
    rebuild();
}

void AbPlot::rebuild()
{
    m_plot->clearPlottables();
    m_plot->clearItems();
    const auto *proof = m_facts->proof();
    double most = 20;
    const QColor ink = palette().color(QPalette::WindowText);
    for (const auto &patch : proof ? proof->patches : std::vector<PatchProof>{}) {
        const bool pointed = QString::fromStdString(patch.id) == m_highlighted;
        most = std::max({most, std::abs(patch.reference.a), std::abs(patch.reference.b),
                         std::abs(patch.lab.a), std::abs(patch.lab.b)});
        auto *shape = new QCPCurve(m_plot->xAxis, m_plot->yAxis);
        const auto curve = toleranceCurve(patch.reference, m_facts->limits.patch, 48);
        for (size_t i = 0; i <= curve.size(); ++i)
            shape->addData(double(i), curve[i % curve.size()].first, curve[i % curve.size()].second);
        shape->setPen(QPen(ink, pointed ? 2 : 1));
        shape->setBrush(screenColor(patch.reference));
        auto *tail = new QCPItemLine(m_plot);
        tail->start->setCoords(patch.reference.a, patch.reference.b);
        tail->end->setCoords(patch.lab.a, patch.lab.b);
        tail->setPen(QPen(ink, pointed ? 3.5 : 2));
        if (pointed) {
            auto *label = new QCPItemText(m_plot);
            label->setText(m_highlighted);
            label->setFont(face(kBody, 700));
            label->setColor(palette().color(QPalette::Text));
            label->setBrush(palette().base());
            label->setPadding(QMargins(5, 2, 5, 2));
            label->position->setCoords(patch.reference.a, patch.reference.b + 14);
        }
    }
    m_plot->xAxis->setRange(-most * 1.2, most * 1.2);
    m_plot->yAxis->setRange(-most * 1.2, most * 1.2);
    m_plot->replot(QCustomPlot::rpQueuedReplot);
}

} // namespace wavechroma::app
