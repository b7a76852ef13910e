#include "app/view/bench/proof/error_list.h"

#include "app/model/spoken.h"
#include "app/view/widgets/look.h"
#include "app/view/widgets/patch_colors.h"
#include "core/words/proof_words.h"

#include <QMouseEvent>
#include <algorithm>

namespace wavechroma::app {

static constexpr int kRow = 24;

ErrorList::ErrorList(QWidget *parent) : QWidget(parent)
{
    setMouseTracking(true);
    setAccessibleName(tr("Errors, worst first"));
    setMinimumHeight(6 * kRow);
}

void ErrorList::show(const Facts &facts)
{
    m_facts = facts;
    m_sorted.clear();
    if (const auto *proof = facts->proof())
        m_sorted = proof->patches;
    std::stable_sort(m_sorted.begin(), m_sorted.end(),
                     [](const auto &a, const auto &b) { return a.de00 > b.de00; });
    updateGeometry();
    update();
}

void ErrorList::highlight(const QString &patch)
{
    if (patch == m_highlighted)
        return;
    m_highlighted = patch;
    update();
}

QString ErrorList::patchAtRow(int row) const
{
    return row >= 0 && row < int(m_sorted.size()) ? QString::fromStdString(m_sorted[size_t(row)].id)
                                                  : QString();
}

int ErrorList::columns() const
{
    return width() >= 620 ? 2 : 1;
}

int ErrorList::rowsPerColumn() const
{
    return (int(m_sorted.size()) + columns() - 1) / columns();
}

QSize ErrorList::sizeHint() const
{
    return {640, std::max(6, rowsPerColumn()) * kRow};
}

void ErrorList::paintEvent(QPaintEvent *)
{
    if (m_sorted.empty())
        return;
    QPainter painter(this);
    const double scale = std::max(m_sorted.front().de00, 1.25 * m_facts->limits.patch);
    const int columnWidth = width() / columns();
    for (int i = 0; i < int(m_sorted.size()); ++i) {
        const auto &patch = m_sorted[size_t(i)];
        const QRect row(i / rowsPerColumn() * columnWidth, i % rowsPerColumn() * kRow, columnWidth - 16,
                        kRow);
        const bool pointed = QString::fromStdString(patch.id) == m_highlighted;
        const bool over = patch.de00 > m_facts->limits.patch;
        drawRingChip(painter, QRectF(row.left() + 2, row.top() + 3, 18, 18), patch);
        painter.setRenderHint(QPainter::Antialiasing, false);
        painter.setPen(palette().color(QPalette::WindowText));
        drawLine(painter, {row.left() + 26, row.top(), 30, kRow}, QString::fromStdString(patch.id),
                 face(kBody, pointed || over ? 700 : 600));
        const int bar = std::clamp(row.width() / 3 - 48, 40, 120);
        const QRectF track(row.left() + 58, row.top() + 6, bar, 12);
        painter.fillRect(QRectF(track.left(), track.top(), bar * m_facts->limits.patch / scale, 12),
                         palette().color(QPalette::Button));
        painter.fillRect(QRectF(track.left(), track.top() + 3, bar * patch.de00 / scale, 6),
                         palette().color(QPalette::WindowText));
        const int number = int(track.right()) + 6;
        drawLine(painter, {number, row.top(), 30, kRow}, fixed(patch.de00, 1), face(kBody, 600),
                 Qt::AlignRight | Qt::AlignVCenter);
        drawLine(painter, {number + 42, row.top(), row.right() - number - 42, kRow},
                 text(words::direction(patch, spoken())), face(kBody, pointed ? 600 : 400));
    }
}

void ErrorList::mouseMoveEvent(QMouseEvent *event)
{
    const int column = int(event->position().x()) / std::max(1, width() / columns()),
              row = int(event->position().y()) / kRow;
    const bool inside = column < columns() && row < rowsPerColumn();
    emit patchPointed(inside ? patchAtRow(column * rowsPerColumn() + row) : QString());
}

void ErrorList::leaveEvent(QEvent *)
{
    emit patchPointed({});
}

} // namespace wavechroma::app
