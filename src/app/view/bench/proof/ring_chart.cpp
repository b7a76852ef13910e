#include "app/view/bench/proof/ring_chart.h"

#include "app/model/spoken.h"
#include "app/view/widgets/look.h"
#include "app/view/widgets/patch_colors.h"

#include <QMouseEvent>
#include <algorithm>

namespace wavechroma::app {

static constexpr int kCaption = 22;

RingChart::RingChart(QWidget *parent) : QWidget(parent)
{
    setMouseTracking(true);
    setAccessibleName(tr("Chart laid out flat"));
    QSizePolicy policy(QSizePolicy::Expanding, QSizePolicy::Preferred);
    policy.setHeightForWidth(true);
    setSizePolicy(policy);
}

void RingChart::show(const Facts &facts)
{
    m_facts = facts;
    update();
}

void RingChart::highlight(const QString &patch)
{
    if (patch == m_highlighted)
        return;
    m_highlighted = patch;
    update();
}

int RingChart::heightForWidth(int width) const
{
    const auto [rows, columns] = shownGrid(m_facts->chart);
    return rows * (std::min(width / columns, 66) + kCaption);
}

QRectF RingChart::cell(int row, int column) const
{
    const auto grid = shownGrid(m_facts->chart);
    const double w = double(width()) / grid.columns, h = double(height()) / grid.rows;
    return {w * column, h * row, w, h};
}

void RingChart::paintEvent(QPaintEvent *)
{
    const auto *proof = m_facts->proof();
    if (!proof)
        return;
    QPainter painter(this);
    const int columns = shownGrid(m_facts->chart).columns;
    for (const auto &patch : proof->patches) {
        const auto at = std::find_if(m_facts->chart.patches.begin(), m_facts->chart.patches.end(),
                                     [&](const auto &p) { return p.id == patch.id; });
        if (at == m_facts->chart.patches.end())
            continue;
        const int index = int(at - m_facts->chart.patches.begin());
        const QRectF c = cell(index / columns, index % columns);
        const double side = std::min(c.width() - 12, c.height() - kCaption - 4);
        const QRectF chip(c.center().x() - side / 2, c.top() + 2, side, side);
        const bool pointed = QString::fromStdString(patch.id) == m_highlighted;
        drawRingChip(painter, chip, patch);
        if (pointed) {
            painter.setBrush(Qt::NoBrush);
            painter.setPen(QPen(palette().color(QPalette::WindowText), 3));
            painter.drawEllipse(chip.adjusted(-4, -4, 4, 4));
        }
        painter.setPen(palette().color(QPalette::WindowText));
        const bool over = patch.de00 > m_facts->limits.patch;
        const QString words = QString::fromStdString(patch.id) + "  " + fixed(patch.de00, 1) +
                              (patch.clipped ? tr(" clipped") : QString());
        drawLine(painter, QRect(int(c.left()), int(chip.bottom()) + 3, int(c.width()), 19), words,
                 face(kBody, over || pointed ? 700 : 400), Qt::AlignCenter);
    }
}

void RingChart::mouseMoveEvent(QMouseEvent *event)
{
    const int columns = shownGrid(m_facts->chart).columns;
    for (size_t i = 0; i < m_facts->chart.patches.size(); ++i)
        if (cell(int(i) / columns, int(i) % columns).contains(event->position())) {
            emit patchPointed(QString::fromStdString(m_facts->chart.patches[i].id));
            return;
        }
}

void RingChart::leaveEvent(QEvent *)
{
    emit patchPointed({});
}

} // namespace wavechroma::app
