#include "app/view/agreement/drift_dialog.h"

#include "app/model/spoken.h"
#include "app/view/widgets/figure_view.h"
#include "app/view/widgets/look.h"
#include "core/figures/drift_figure.h"
#include "core/words/drift_words.h"

#include <QDialogButtonBox>
#include <QLabel>
#include <QScrollArea>
#include <QVBoxLayout>

namespace wavechroma::app {

namespace {

QLabel *paragraph(const QString &words, int size, int weight = 400)
{
    auto *label = new QLabel(words);
    label->setFont(face(size, weight));
    label->setTextFormat(Qt::PlainText);
    label->setWordWrap(true);
    label->setTextInteractionFlags(Qt::TextSelectableByMouse | Qt::TextSelectableByKeyboard);
    return label;
}

std::vector<DriftPoint> pointsOf(const StationDrift &drift)
{
    std::vector<DriftPoint> out{{drift.firstAt, drift.firstMean, 0, 0, drift.firstPasses}};
    for (const auto &look : drift.looks)
        out.push_back({look.check.capturedAt, look.check.mean, look.stops, look.mired, look.check.passes});
    return out;
}

} // namespace

DriftDialog::DriftDialog(const StationDrift &drift, QWidget *parent) : QDialog(parent)
{
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(tr("Drift"));
    resize(860, 620);
    auto *sheet = new QWidget;
    auto *column = new QVBoxLayout(sheet);
    column->setContentsMargins(24, 18, 24, 18);
    column->setSpacing(10);
    const auto due = text(words::driftDue(drift.due.on, drift.due.framesLeft, drift.due.isFailed, spoken()));
    column->addWidget(paragraph(text(drift.station), kAnswer, 700));
    column->addWidget(paragraph(due, kAnswer));
    auto *figure = new FigureView(1.35);
    figure->show(controlChart(pointsOf(drift), drift.limit, 560, 190));
    column->addWidget(figure);
    column->addWidget(
        paragraph(tr("Each look at the chart by the calibration in force then; stops and mired since the "
                     "first. Open: passes. Full: fails. Dashed: the limit of the mean. Band: the "
                     "scatter of the points themselves, from four on."),
                  12));
    QStringList all{due};
    for (const auto &look : drift.looks) {
        const auto line = tr("%1, by the chart of %2: %3")
                              .arg(text(look.check.capturedAt).replace('T', ' '),
                                   text(look.against).mid(11, 5), text(words::drift(look.check, spoken())));
        all << line;
        column->addWidget(paragraph(line, kBody));
    }
    if (drift.looks.empty())
        column->addWidget(paragraph(tr("No later chart and no check frame of this station yet."), kBody));
    column->addStretch(1);
    m_words = all.join('\n');
    auto *scroll = new QScrollArea;
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setWidgetResizable(true);
    scroll->setWidget(sheet);
    auto *buttons = new QDialogButtonBox;
    buttons->addButton(tr("Close"), QDialogButtonBox::RejectRole);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    auto *outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 12, 12);
    outer->addWidget(scroll, 1);
    outer->addWidget(buttons);
}

} // namespace wavechroma::app
