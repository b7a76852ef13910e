#include "app/view/bench/fit/sector_dialog.h"

#include "app/model/spoken.h"
#include "app/view/widgets/look.h"
#include "core/color/lab.h"
#include "core/color/rgb_space.h"
#include "core/tasks/fit_task.h"

#include <QDialogButtonBox>
#include <QDoubleSpinBox>
#include <QGridLayout>
#include <QLabel>
#include <QPushButton>

namespace wavechroma::app {

namespace {

constexpr double SectorLean::*kAmounts[] = {&SectorLean::hue, &SectorLean::chroma, &SectorLean::lightness};

/// A middling colour of the sector.
QColor colourOf(size_t sector)
{
    const auto rgb = rgbFromXyzD50(srgb(), xyzFromLab(labFromLch({62, 40, 45.0 * double(sector) + 22.5})));
    const auto code = [](double light) {
        return int(255 * encoded(Transfer::Srgb, std::clamp(light, 0.0, 1.0)));
    };
    return {code(rgb.r), code(rgb.g), code(rgb.b)};
}

QLabel *swatch(size_t sector)
{
    auto *label = new QLabel;
    QPixmap colour(34, 18);
    colour.fill(colourOf(sector));
    label->setPixmap(colour);
    return label;
}

} // namespace

SectorDialog::SectorDialog(const ColourLean &lean, QWidget *parent) : QDialog(parent), m_lean(lean)
{
    setWindowTitle(tr("Sectors of Hue"));
    auto *grid = new QGridLayout(this);
    auto *what = new QLabel(
        tr("Amounts on top of the exact result. Neutrals stay; from one sector to the next a change "
           "goes over smoothly."));
    what->setWordWrap(true);
    grid->addWidget(what, 0, 0, 1, 5);
    const QString headings[] = {tr("Hue"), tr("Chroma"), tr("Lightness")};
    for (int i = 0; i < 3; ++i)
        grid->addWidget(new QLabel(headings[i]), 1, i + 2);
    const QString units[] = {tr("°"), tr(" %"), tr(" L*")};
    for (size_t sector = 0; sector < kHueSectors; ++sector) {
        const int row = int(sector) + 2;
        const QString range = tr("%1° to %2°").arg(45 * int(sector)).arg(45 * int(sector) + 45);
        grid->addWidget(swatch(sector), row, 0);
        grid->addWidget(new QLabel(range), row, 1);
        for (size_t i = 0; i < 3; ++i) {
            auto *box = m_boxes[sector][i] = new QDoubleSpinBox;
            const double most = kMostSectorLean.*kAmounts[i], step = kSectorStep.*kAmounts[i];
            box->setRange(-most, most);
            box->setSingleStep(step);
            box->setDecimals(i == 1 ? 0 : 1);
            box->setSuffix(units[i]);
            box->setAccessibleName(tr("%1, %2").arg(headings[i], range));
            box->setKeyboardTracking(false);
            connect(box, &QDoubleSpinBox::valueChanged, this, &SectorDialog::ask);
            grid->addWidget(box, row, int(i) + 2);
        }
    }
    auto *buttons = new QDialogButtonBox(QDialogButtonBox::Close);
    auto *exact = buttons->addButton(tr("All Exact"), QDialogButtonBox::ResetRole);
    auto *table = buttons->addButton(tr("Read a Table…"), QDialogButtonBox::ActionRole);
    connect(exact, &QPushButton::clicked, this, [this] {
        m_lean.sectors = {};
        show(m_lean);
        emit leanAsked(m_lean);
    });
    connect(table, &QPushButton::clicked, this, &SectorDialog::tableAsked);
    for (auto *button : buttons->buttons()) // Enter ends the typing of a number, nothing else
        if (auto *push = qobject_cast<QPushButton *>(button)) {
            push->setAutoDefault(false);
            push->setDefault(false);
        }
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    grid->addWidget(buttons, int(kHueSectors) + 2, 0, 1, 5);
    show(lean);
}

void SectorDialog::show(const ColourLean &lean)
{
    m_lean = lean;
    m_isShowing = true;
    for (size_t sector = 0; sector < kHueSectors; ++sector)
        for (size_t i = 0; i < 3; ++i)
            m_boxes[sector][i]->setValue(lean.sectors[sector].*kAmounts[i]);
    m_isShowing = false;
    setVisible(true);
}

void SectorDialog::ask()
{
    if (m_isShowing)
        return;
    auto lean = m_lean;
    for (size_t sector = 0; sector < kHueSectors; ++sector)
        for (size_t i = 0; i < 3; ++i)
            lean.sectors[sector].*kAmounts[i] = m_boxes[sector][i]->value();
    if (const auto allowed = check(lean); !allowed) {
        emit refused(text(allowed.error()));
        return show(m_lean);
    }
    m_lean = lean;
    emit leanAsked(lean);
}

} // namespace wavechroma::app
