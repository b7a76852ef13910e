#include "app/view/charts/drawn_patches.h"

#include "app/model/spoken.h"

#include <QDoubleSpinBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <QSignalBlocker>

namespace wavechroma::app {

static QDoubleSpinBox *sideBox(const char *name, double value)
{
    auto *box = new QDoubleSpinBox;
    box->setObjectName(name);
    box->setRange(10, 5000);
    box->setDecimals(1);
    box->setSuffix(" mm");
    box->setValue(value);
    return box;
}

DrawnPatches::DrawnPatches(QWidget *parent)
    : QWidget(parent), m_width(sideBox("outlineWidth", 297)), m_height(sideBox("outlineHeight", 210)),
      m_list(new QListWidget), m_remove(new QPushButton(tr("Remove")))
{
    m_list->setObjectName("patches");
    m_list->setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::EditKeyPressed);
    auto *hint =
        new QLabel(tr("Drag the corners onto a rectangle of known size, the board itself for example. "
                      "Then draw each patch; a double click names it."));
    hint->setWordWrap(true);
    auto *patch = new QPushButton(tr("Draw a Patch")), *disc = new QPushButton(tr("Draw a Disc"));
    patch->setObjectName("drawPatch");
    disc->setObjectName("drawDisc");
    m_remove->setObjectName("removePatch");
    auto *sizes = new QFormLayout;
    sizes->addRow(tr("Rectangle, width"), m_width);
    sizes->addRow(tr("Rectangle, height"), m_height);
    auto *buttons = new QHBoxLayout;
    for (auto *button : {patch, disc, m_remove}) {
        button->setAutoDefault(false);
        buttons->addWidget(button);
    }
    auto *column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(hint);
    column->addLayout(sizes);
    column->addWidget(m_list, 1);
    column->addLayout(buttons);
    for (auto *box : {m_width, m_height})
        connect(box, &QDoubleSpinBox::valueChanged, this, &DrawnPatches::outlineAgain);
    for (auto *button : {patch, disc})
        connect(button, &QPushButton::clicked, this, [this, isDisc = button == disc] {
            m_isDisc = isDisc;
            emit drawAsked();
        });
    connect(m_remove, &QPushButton::clicked, this, &DrawnPatches::remove);
    connect(m_list, &QListWidget::itemChanged, this, &DrawnPatches::rename);
    showPatches();
}

void DrawnPatches::start(const Corners &corners)
{
    m_layout = outlineOn(corners, m_width->value(), m_height->value());
    showPatches();
}

void DrawnPatches::moveTo(const Corners &corners)
{
    m_layout.corners = corners;
}

void DrawnPatches::outlineAgain()
{
    if (!hasPatches())
        start(m_layout.corners);
}

bool DrawnPatches::add(const PixelPoint &from, const PixelPoint &to)
{
    const auto more = withPatch(m_layout, from, to, m_isDisc);
    if (!more)
        return false;
    m_layout = *more;
    showPatches();
    m_list->setCurrentRow(m_list->count() - 1);
    return true;
}

void DrawnPatches::rename()
{
    for (int i = 0; i < m_list->count(); ++i)
        m_layout.chart.patches[size_t(i)].id = m_list->item(i)->text().trimmed().toStdString();
}

/// The last patch leaves the rectangle that it lay on.
void DrawnPatches::remove()
{
    const int row = m_list->currentRow();
    if (row < 0)
        return;
    if (const auto less = withoutPatch(m_layout, size_t(row))) {
        m_layout = *less;
        showPatches();
    } else {
        const auto extent = chartExtent(m_layout.chart);
        const QSignalBlocker quietWidth(m_width), quietHeight(m_height);
        m_width->setValue(extent.x);
        m_height->setValue(extent.y);
        start(m_layout.corners);
    }
}

void DrawnPatches::showPatches()
{
    {
        const QSignalBlocker quiet(m_list);
        m_list->clear();
        for (size_t i = 0; i < m_layout.chart.places.size(); ++i) {
            auto *item = new QListWidgetItem(text(m_layout.chart.patches[i].id), m_list);
            item->setFlags(item->flags() | Qt::ItemIsEditable);
        }
    }
    for (auto *box : {m_width, m_height}) // of the first rectangle only
        box->setEnabled(!hasPatches());
    m_remove->setEnabled(hasPatches());
    emit changed();
}

} // namespace wavechroma::app
