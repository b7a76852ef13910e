#include "app/view/charts/layout_dialog.h"

#include "app/model/spoken.h"
#include "app/view/charts/drawn_patches.h"
#include "app/view/frame/frame_view.h"
#include "core/base/letters.h"
#include "core/color/lab.h"
#include "core/tasks/place_task.h"
#include "core/tasks/reference_task.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDialogButtonBox>
#include <QDoubleSpinBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QMessageBox>
#include <QSpinBox>
#include <cmath>

namespace wavechroma::app {

namespace {

QDoubleSpinBox *millimetres(double value, double least)
{
    auto *box = new QDoubleSpinBox;
    box->setRange(least, 500);
    box->setDecimals(1);
    box->setSuffix(" mm");
    box->setValue(value);
    return box;
}

/// "Harbour paints, 2026" → "harbour-paints-2026"
std::string idFrom(const QString &name)
{
    std::string id;
    for (const char c : name.toLower().toStdString())
        if (letters::isLetterOrDigit(c))
            id += c;
        else if (!id.empty() && id.back() != '-')
            id += '-';
    while (!id.empty() && id.back() == '-')
        id.pop_back();
    if (id.empty())
        return "own-chart";
    return chartFromCatalogue(id) ? id + "-own" : id; // the catalogue's ids stay its own
}

/// Patches of little chroma, lightest first: what can serve as neutrals.
std::vector<std::string> neutralsOfChart(const ChartDefinition &chart)
{
    std::vector<std::pair<double, std::string>> found;
    for (const auto &patch : chart.patches) {
        const auto lab = labFromXyz(patch.reference);
        if (std::hypot(lab.a, lab.b) < 4)
            found.emplace_back(-lab.l, patch.id);
    }
    std::sort(found.begin(), found.end());
    std::vector<std::string> out;
    for (const auto &[l, id] : found)
        out.push_back(id);
    return out;
}

} // namespace

LayoutDialog::LayoutDialog(TaskRunner *tasks, std::shared_ptr<const OpenFrame> frame,
                           const std::optional<Calibration> &calibration, QWidget *parent)
    : QDialog(parent), m_frame(std::move(frame)), m_calibration(calibration), m_view(new FrameView),
      m_pixels(new TruePixels(tasks, this)), m_name(new QLineEdit(tr("Own chart"))), m_kind(new QComboBox),
      m_gridLines(new QWidget), m_drawn(new DrawnPatches), m_rows(new QSpinBox), m_columns(new QSpinBox),
      m_gapAfter(new QSpinBox), m_patchWidth(millimetres(30, 1)), m_patchHeight(millimetres(30, 1)),
      m_gapX(millimetres(5, 0)), m_gapY(millimetres(5, 0)), m_panelGap(millimetres(0, 0)),
      m_colours(new QCheckBox(tr("Take the colours from this frame, by its station's calibration")))
{
    setWindowTitle(tr("New Chart over This Frame"));
    resize(1080, 640);
    m_name->setObjectName("name");
    m_rows->setObjectName("rows");
    m_columns->setObjectName("columns");
    for (auto *box : {m_rows, m_columns})
        box->setRange(1, 100);
    m_rows->setValue(4);
    m_columns->setValue(6);
    m_gapAfter->setRange(0, 99);
    m_gapAfter->setSpecialValueText(tr("one panel"));
    m_gapAfter->setPrefix(tr("after column "));
    m_colours->setEnabled(calibration.has_value());
    m_colours->setChecked(calibration.has_value());
    m_colours->setObjectName("colours");
    auto *buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel);
    auto *side = new QVBoxLayout;
    side->addLayout(makeLines());
    side->addWidget(m_gridLines);
    side->addWidget(m_drawn, 1);
    side->addWidget(m_colours);
    side->addStretch(0);
    side->addWidget(buttons);
    auto *layout = new QHBoxLayout(this);
    layout->addWidget(m_view, 1);
    layout->addLayout(side);
    const double w = m_frame->frame->width, h = m_frame->frame->height;
    m_corners = {
        PixelPoint{0.25 * w, 0.25 * h}, {0.75 * w, 0.25 * h}, {0.75 * w, 0.75 * h}, {0.25 * w, 0.75 * h}};
    m_view->setFrame(m_frame);
    m_pixels->setFrame(m_frame);
    connect(m_view, &FrameView::pixelsSeen, m_pixels, &TruePixels::see);
    connect(m_pixels, &TruePixels::changed, m_view,
            [this] { m_view->setPixels(m_pixels->image(), m_pixels->area()); });
    m_drawn->start(m_corners);
    connect(m_view, &FrameView::placementMoved, this,
            [this](const Corners &corners, double share, bool) { moved(corners, share); });
    connect(m_view, &FrameView::cornerDropped, this, [this](const Corners &corners, double share) {
        const auto place = isGrid() ? snappedCorners(*m_frame->frame, layoutNow(), corners) : std::nullopt;
        moved(place.value_or(corners), share);
        showLayout();
    });
    connect(m_view, &FrameView::patchDrawn, this, [this](const PixelPoint &from, const PixelPoint &to) {
        if (!m_drawn->add(from, to))
            QMessageBox::warning(this, windowTitle(), tr("A patch needs two corners that lie apart."));
    });
    connect(m_drawn, &DrawnPatches::drawAsked, this, [this] { m_view->startTool(FrameView::Tool::Patch); });
    connect(m_drawn, &DrawnPatches::changed, this, &LayoutDialog::showLayout);
    connect(m_kind, &QComboBox::currentIndexChanged, this, &LayoutDialog::adapt);
    for (auto *box : {m_rows, m_columns, m_gapAfter})
        connect(box, &QSpinBox::valueChanged, this, &LayoutDialog::showLayout);
    for (auto *box : {m_patchWidth, m_patchHeight, m_gapX, m_gapY, m_panelGap})
        connect(box, &QDoubleSpinBox::valueChanged, this, &LayoutDialog::showLayout);
    connect(buttons, &QDialogButtonBox::accepted, this, &LayoutDialog::accept);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    adapt();
}

QFormLayout *LayoutDialog::makeLines()
{
    m_kind->setObjectName("kind");
    m_kind->addItems({tr("a grid"), tr("patches drawn one by one")});
    auto *lines = new QFormLayout;
    lines->addRow(tr("Name"), m_name);
    lines->addRow(tr("Layout"), m_kind);
    auto *grid = new QFormLayout(m_gridLines);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->addRow(tr("Rows"), m_rows);
    grid->addRow(tr("Columns"), m_columns);
    grid->addRow(tr("Patch width"), m_patchWidth);
    grid->addRow(tr("Patch height"), m_patchHeight);
    grid->addRow(tr("Between columns"), m_gapX);
    grid->addRow(tr("Between rows"), m_gapY);
    grid->addRow(tr("Second panel"), m_gapAfter);
    grid->addRow(tr("Extra gap"), m_panelGap);
    return lines;
}

bool LayoutDialog::isGrid() const
{
    return m_kind->currentIndex() == 0;
}

const Corners &LayoutDialog::corners() const
{
    return isGrid() ? m_corners : m_drawn->layout().corners;
}

void LayoutDialog::moved(const Corners &corners, double share)
{
    m_windowShare = share;
    if (isGrid())
        m_corners = corners;
    else
        m_drawn->moveTo(corners);
}

void LayoutDialog::adapt()
{
    m_gridLines->setVisible(isGrid());
    m_drawn->setVisible(!isGrid());
    m_view->startTool(FrameView::Tool::None);
    showLayout();
}

ChartDefinition LayoutDialog::layoutNow() const
{
    auto chart = isGrid() ? plainGrid(m_rows->value(), m_columns->value()) : m_drawn->layout().chart;
    chart.name = m_name->text().trimmed().toStdString();
    chart.id = idFrom(m_name->text());
    if (!isGrid())
        return chart;
    chart.patchWidthMm = m_patchWidth->value();
    chart.patchHeightMm = m_patchHeight->value();
    chart.pitchXMm = m_patchWidth->value() + m_gapX->value();
    chart.pitchYMm = m_patchHeight->value() + m_gapY->value();
    if (m_gapAfter->value() > 0 && m_gapAfter->value() < m_columns->value() && m_panelGap->value() > 0)
        chart.panelGap = PanelGap{m_gapAfter->value(), m_panelGap->value()};
    return chart;
}

void LayoutDialog::showLayout()
{
    Reading placed;
    placed.found = true;
    placed.corners = corners();
    placed.width = m_frame->frame->width;
    placed.height = m_frame->frame->height;
    placed.windowShare = isGrid() || m_drawn->hasPatches() ? m_windowShare : 1; // a rectangle alone
    m_view->setPlacement(placed, layoutNow());
}

void LayoutDialog::accept()
{
    auto chart = layoutNow();
    if (!isGrid() && !m_drawn->hasPatches()) {
        QMessageBox::warning(this, windowTitle(), tr("Draw at least one patch."));
        return;
    }
    auto fault = check(chart);
    if (fault && m_colours->isChecked() && m_calibration) {
        ReadRequest request;
        request.definition = chart;
        request.corners = corners();
        request.windowShare = m_windowShare;
        const auto reading = readFrame(*m_frame->frame, request);
        const auto seen = reading ? withSeenColours(chart, *reading, *m_calibration)
                                  : Result<ChartDefinition>(reading.error());
        if (!seen) {
            QMessageBox::warning(this, windowTitle(), text(seen.error()));
            return;
        }
        chart = *seen;
        chart.neutral = neutralsOfChart(chart);
        fault = check(chart);
    }
    if (!fault) {
        QMessageBox::warning(this, windowTitle(), text(fault.error()));
        return;
    }
    m_made = chart;
    QDialog::accept();
}

} // namespace wavechroma::app
