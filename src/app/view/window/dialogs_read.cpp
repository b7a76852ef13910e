// Charts, limits and rulers.
#include "app/view/bench/bench.h"
#include "app/view/bench/read/read_stop.h"
#include "app/view/charts/chart_choice.h"
#include "app/view/charts/charts_dialog.h"
#include "app/view/charts/layout_dialog.h"
#include "app/view/charts/tolerance_dialog.h"
#include "app/view/window/main_window.h"

#include "app/model/spoken.h"
#include <QInputDialog>
#include <QRegularExpression>

namespace wavechroma::app {

void MainWindow::chooseChart()
{
    auto charts = chartsOf(m_job.state());
    for (const char *id : {"grey-card", "grey-cube", "even-field"}) // the ones that no pattern finds
        charts.push_back(*chartFromCatalogue(id));
    auto *dialog = new ChartChoice(charts, m_bench->facts().chart.id, this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    connect(dialog, &QDialog::accepted, this, [this, dialog] {
        m_bench->openStop(1);
        editor()->useChart(dialog->chart(), dialog->byHand());
    });
    dialog->open();
}

void MainWindow::chooseLimits()
{
    const auto title = m_job.state().title;
    auto *dialog = new ToleranceDialog(sheetOf(m_job.state()), title.intendedPpi, this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    connect(dialog, &QDialog::accepted, this, [this, dialog] {
        auto after = m_job.state().title;
        const auto before = after;
        after.tolerance = documentOf(dialog->sheet());
        after.intendedPpi = dialog->intendedPpi();
        if (const auto readable = toleranceFrom(after.tolerance, "tolerance sheet"); !readable) {
            showMessage(text(readable.error()));
            return;
        }
        JobChange change;
        if (!(after == before))
            change.titles.push_back({before, after});
        m_job.push(tr("Change Tolerances"), change);
    });
    dialog->open();
}

void MainWindow::editCharts()
{
    auto *dialog = new ChartsDialog(&m_job, this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->open();
}

void MainWindow::drawChart()
{
    const auto frame = editor()->picture();
    if (!frame || !frame->frame)
        return;
    std::optional<Calibration> calibration;
    if (const auto *known = m_job.job().calibrationFor(frame->id))
        calibration = *known->calibration;
    auto *dialog = new LayoutDialog(&m_tasks, frame, calibration, this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    connect(dialog, &QDialog::accepted, this, [this, dialog] {
        const auto chart = dialog->chart();
        JobChange change;
        change.charts.push_back({std::nullopt, JobChart{nextId(m_job.state()), chart.name, true, chart}});
        m_job.push(tr("Add Chart %1").arg(QString::fromStdString(chart.name)), change);
        showMessage(tr("%1 was added to the job's charts. Press Ctrl+K to read a frame as this chart.")
                        .arg(QString::fromStdString(chart.name)));
    });
    dialog->open();
}

void MainWindow::switchPatchesOff()
{
    const auto &reading = m_bench->facts().reading;
    if (!reading || !reading->found)
        return;
    QStringList off;
    for (const auto &id : reading->leftOut)
        off << QString::fromStdString(id);
    auto *dialog = new QInputDialog(this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setWindowTitle(tr("Patches Off"));
    dialog->setLabelText(tr("These patches are not used (A1, C4 …). A click on a patch does the same."));
    dialog->setTextValue(off.join(", "));
    connect(dialog, &QInputDialog::textValueSelected, this, [this](const QString &words) {
        std::vector<std::string> ids;
        for (const auto &id : words.split(QRegularExpression("[,; ]+"), Qt::SkipEmptyParts))
            ids.push_back(id.toUpper().toStdString());
        editor()->switchOff(ids);
    });
    dialog->open();
}

void MainWindow::askRulerLength()
{
    auto *dialog = new QInputDialog(this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setWindowTitle(tr("Ruler"));
    dialog->setInputMode(QInputDialog::DoubleInput);
    dialog->setLabelText(tr("How long is it, in millimetres?"));
    dialog->setDoubleRange(0.1, 100000);
    dialog->setDoubleDecimals(1);
    dialog->setDoubleValue(100);
    connect(dialog, &QInputDialog::doubleValueSelected, this,
            [this](double mm) { m_bench->measureRuler(mm); });
    dialog->open();
}

} // namespace wavechroma::app
