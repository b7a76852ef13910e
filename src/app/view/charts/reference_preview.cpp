#include "app/view/charts/reference_preview.h"

#include "app/model/spoken.h"
#include "app/view/widgets/patch_colors.h"
#include "core/color/lab.h"

#include <QPainter>
#include <algorithm>

namespace wavechroma::app {

namespace {

constexpr size_t kMostPairs = 12;
constexpr int kHeight = 64, kGap = 4;

} // namespace

ReferencePreview::ReferencePreview(QWidget *parent) : QWidget(parent)
{
    setObjectName("referencePreview");
    setVisible(false);
}

void ReferencePreview::show(const ChartDefinition &read, const ChartDefinition &usual)
{
    m_pairs.clear();
    for (const auto &patch : read.patches) {
        if (m_pairs.size() == kMostPairs)
            break;
        const auto *known = usual.colorsKnown ? usual.patch(patch.id) : nullptr;
        m_pairs.push_back({text(patch.id), screenColor(labFromXyz(patch.reference)),
                           known ? screenColor(labFromXyz(known->reference)) : QColor()});
    }
    setAccessibleName(tr("The first colours of the table, above the usual colours of the chart"));
    setVisible(!m_pairs.empty());
    updateGeometry();
    update();
}

QSize ReferencePreview::sizeHint() const
{
    return {400, kHeight};
}

void ReferencePreview::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    painter.setPen(palette().color(QPalette::WindowText));
    const int textHeight = painter.fontMetrics().height(), half = (height() - textHeight) / 2;
    const auto table = tr("table"), usual = tr("usual");
    const double left = std::max(painter.fontMetrics().horizontalAdvance(table),
                                 painter.fontMetrics().horizontalAdvance(usual)) +
                        2 * kGap;
    painter.drawText(QRectF(0, 0, left, half), Qt::AlignVCenter, table);
    painter.drawText(QRectF(0, half, left, half), Qt::AlignVCenter, usual);
    const double step = (double(width()) - left) / double(kMostPairs);
    for (size_t i = 0; i < m_pairs.size(); ++i) {
        const QRectF cell(left + double(i) * step, 0, step - kGap, height());
        painter.fillRect(QRectF(cell.left(), 0, cell.width(), half), m_pairs[i].read);
        if (m_pairs[i].usual.isValid())
            painter.fillRect(QRectF(cell.left(), half, cell.width(), half), m_pairs[i].usual);
        painter.drawText(QRectF(cell.left(), 2 * half, cell.width(), textHeight), Qt::AlignCenter,
                         m_pairs[i].id);
    }
}

} // namespace wavechroma::app
