#include "app/view/bench/proof/error_list.h"

#include "app/model/spoken.h"
#include "app/view/widgets/look.h"
#include "app/view/widgets/patch_colors.h"
#include "core/words/proof_words.h"

#include <QStyle>
#include <QStyledItemDelegate>
#include <algorithm>

namespace wavechroma::app {

namespace {

constexpr int kRow = 24;

class ErrorDelegate : public QStyledItemDelegate
{
public:
    explicit ErrorDelegate(ErrorList *list) : QStyledItemDelegate(list), m_list(list) {}

    QSize sizeHint(const QStyleOptionViewItem &, const QModelIndex &) const override
    {
        return m_list->gridSize();
    }

    void paint(QPainter *painter, const QStyleOptionViewItem &option, const QModelIndex &index) const override
    {
        const auto &errors = *m_list->errors();
        const auto &patch = errors.patch(index.row());
        const double scale = std::max(errors.largest(), 1.25 * errors.limit());
        const QRect row = option.rect.adjusted(0, 0, -16, 0);
        const bool pointed = text(patch.id) == m_list->highlighted(), over = patch.de00 > errors.limit();
        painter->save();
        drawRingChip(*painter, QRectF(row.left() + 2, row.top() + 3, 18, 18), patch);
        painter->setRenderHint(QPainter::Antialiasing, false);
        painter->setPen(option.palette.color(QPalette::WindowText));
        drawLine(*painter, {row.left() + 26, row.top(), 30, kRow}, text(patch.id),
                 face(kBody, pointed || over ? 700 : 600));
        const int bar = std::clamp(row.width() / 3 - 48, 40, 120);
        const QRectF track(row.left() + 58, row.top() + 6, bar, 12);
        painter->fillRect(QRectF(track.left(), track.top(), bar * errors.limit() / scale, 12),
                          option.palette.color(QPalette::Button));
        painter->fillRect(QRectF(track.left(), track.top() + 3, bar * patch.de00 / scale, 6),
                          option.palette.color(QPalette::WindowText));
        const int number = int(track.right()) + 6;
        drawLine(*painter, {number, row.top(), 30, kRow}, fixed(patch.de00, 1), face(kBody, 600),
                 Qt::AlignRight | Qt::AlignVCenter);
        drawLine(*painter, {number + 42, row.top(), row.right() - number - 42, kRow},
                 text(words::direction(patch, spoken())), face(kBody, pointed ? 600 : 400));
        painter->restore();
    }

private:
    ErrorList *m_list;
};

} // namespace

ErrorList::ErrorList(QWidget *parent) : QListView(parent), m_errors(new ErrorModel(this))
{
    setAccessibleName(tr("Errors, worst first"));
    setModel(m_errors);
    setItemDelegate(new ErrorDelegate(this));
    setFlow(LeftToRight);
    setWrapping(true);
    setResizeMode(Adjust);
    setUniformItemSizes(true);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setFrameShape(NoFrame);
    setSelectionMode(NoSelection);
    setMouseTracking(true);
    viewport()->setAutoFillBackground(false);
    setMinimumHeight(6 * kRow);
    connect(this, &QListView::entered, this,
            [this](const QModelIndex &index) { emit patchPointed(text(m_errors->patch(index.row()).id)); });
    connect(this, &QListView::viewportEntered, this, [this] { emit patchPointed({}); });
}

void ErrorList::show(const Facts &facts)
{
    m_errors->show(facts->proof(), facts->limits.patch);
    updateGeometry();
}

void ErrorList::highlight(const QString &patch)
{
    if (patch == m_highlighted)
        return;
    m_highlighted = patch;
    viewport()->update();
}

int ErrorList::columns() const
{
    return width() >= 620 ? 2 : 1;
}

QSize ErrorList::sizeHint() const
{
    return {640, std::max(6, (m_errors->rowCount() + columns() - 1) / columns()) * kRow + 6};
}

void ErrorList::resizeEvent(QResizeEvent *event)
{
    // the list keeps room for its scroll bar whether it shows or not
    setGridSize({(width() - style()->pixelMetric(QStyle::PM_ScrollBarExtent)) / columns() - 1, kRow});
    QListView::resizeEvent(event);
}

void ErrorList::leaveEvent(QEvent *event)
{
    emit patchPointed({});
    QListView::leaveEvent(event);
}

void ErrorList::currentChanged(const QModelIndex &current, const QModelIndex &previous)
{
    QListView::currentChanged(current, previous);
    if (current.isValid())
        emit patchPointed(text(m_errors->patch(current.row()).id));
}

} // namespace wavechroma::app
