// Placing and reading a chart, charts and tolerances.
#include "app/view/window/read_actions.h"
#include "app/model/spoken.h"
#include "app/view/bench/product/product_bench.h"
#include "app/view/bench/product/product_view.h"
#include "app/view/bench/read/read_stop.h"
#include "app/view/charts/chart_choice.h"
#include "app/view/charts/charts_dialog.h"
#include "app/view/charts/layout_dialog.h"
#include "app/view/charts/tolerance_dialog.h"

#include <QInputDialog>
#include <QRegularExpression>

namespace wavechroma::app {

ReadActions::ReadActions(Desk *desk) : ActionGroup(desk)
{
    connect(desk->bench(), &Bench::rulerLengthAsked, this, &ReadActions::askRulerLength);
}

MenuRows ReadActions::rows()
{
    auto *view = m_bench->readStop()->view();
    const auto editable = needs(&Availability::editable);
    const auto onBench = needs(&Availability::onBench);
    const auto writable = needs(&Availability::writable);
    const auto tool = [this, view](FrameView::Tool which) {
        return [this, view, which] {
            m_bench->openStop(1);
            view->startTool(which);
        };
    };
    using enum ActionRow::Place;
    return {tr("&Read"),
            {{"readAgain", tr("Find Again"), "Ctrl+F",
              tr("Search the whole frame again; a placement by hand is discarded"), editable,
              [this] { editor()->readAgain(); }},
             {"chooseChart", tr("Which Chart…"), "Ctrl+K",
              tr("Read the frame as another chart, or as a plain grid"), editable, [this] { chooseChart(); }},
             {"placeByHand", tr("Place by Hand"), "Ctrl+H",
              tr("Put the chart in the middle of the frame and drag it into place"), editable,
              [this] {
                  m_bench->openStop(1);
                  editor()->placeByHand();
              },
              NewGroup},
             {"threeCorners", tr("Place by Three Clicks"), "",
              tr("Click the first patch, the last of the top row, and the last of all"), editable,
              tool(FrameView::Tool::ThreeCorners)},
             {"snap", tr("Snap Corners to Patches"), "S",
              tr("A corner that is dropped near the printed corner moves onto it"), onBench,
              [this] { editor()->setSnapping(isOn("snap")); }, InMenu, true},
             {"carry", tr("Copy to Later Frames"), "Ctrl+B",
              tr("Chart frames: copy the placement to the frames that follow, and refine it in each. Product "
                 "frames: copy level, balance and probes to the rest of the run"),
              editable,
              [this] {
                  if (m_bench->isProduct())
                      m_bench->product()->editor()->carryOn();
                  else
                      editor()->carryPlacement();
              },
              OfBench},
             {"patchesOff", tr("Patches Off…"), "Ctrl+P",
              tr("Switch spoilt patches off; a click on one does the same"), editable,
              [this] { switchPatchesOff(); }, OfBench},
             {"drawChart", tr("New Chart over This Frame…"), "",
              tr("Draw the layout of your own chart over its picture"), editable, [this] { drawChart(); },
              OfBench},
             {"ruler", tr("Ruler"), "R",
              tr("Click both ends of a known length: it is kept as the scale of this station's pictures"),
              onBench,
              [this] {
                  if (!m_bench->isProduct())
                      m_bench->openStop(1);
                  m_bench->view()->startTool(FrameView::Tool::Ruler);
              },
              NewGroup},
             {"hatch", tr("Hatch Clipped and Noisy"), "H",
              tr("Hatch where the frame is clipped, by channel, or lost in noise"), onBench,
              [this, view] {
                  for (auto *one : {view, static_cast<FrameView *>(m_bench->product()->view())})
                      one->setHatched(isOn("hatch"));
              },
              InMenu, true},
             {"loupe", tr("Loupe"), "L",
              tr("Raw and coded values under the mouse, or moved by the arrow keys"), onBench,
              [this, view] {
                  for (auto *one : {view, static_cast<FrameView *>(m_bench->product()->view())})
                      one->setLoupe(isOn("loupe"));
              },
              InMenu, true},
             {"charts", tr("Charts and References…"), "",
              tr("Reference values by batch and date, measured or from files"), writable,
              [this] { editCharts(); }, NewGroup},
             {"limits", tr("Tolerances…"), "Ctrl+T", tr("Limits of the checks, and the intended scale"),
              writable, [this] { chooseLimits(); }}}};
}

void ReadActions::chooseChart()
{
    auto charts = chartsOf(m_job.state());
    for (const char *id : {"grey-card", "grey-cube", "even-field"}) // the ones that no pattern finds
        charts.push_back(*chartFromCatalogue(id));
    auto *dialog = new ChartChoice(charts, m_bench->facts().chart.id, window());
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    connect(dialog, &QDialog::accepted, this, [this, dialog] {
        m_bench->openStop(1);
        editor()->useChart(dialog->chart(), dialog->byHand());
    });
    dialog->open();
}

void ReadActions::chooseLimits()
{
    const auto title = m_job.state().title;
    auto *dialog = new ToleranceDialog(sheetOf(m_job.state()), title.intendedPpi, window());
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

void ReadActions::editCharts()
{
    auto *dialog = new ChartsDialog(&m_job, window());
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->open();
}

void ReadActions::drawChart()
{
    const auto frame = editor()->picture();
    if (!frame || !frame->frame)
        return;
    std::optional<Calibration> calibration;
    if (const auto *known = m_job.job().calibrationFor(frame->id))
        calibration = *known->calibration;
    auto *dialog = new LayoutDialog(&m_tasks, frame, calibration, window());
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

void ReadActions::switchPatchesOff()
{
    const auto &reading = m_bench->facts().reading;
    if (!reading || !reading->found)
        return;
    QStringList off;
    for (const auto &id : reading->leftOut)
        off << QString::fromStdString(id);
    auto *dialog = new QInputDialog(window());
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

void ReadActions::askRulerLength()
{
    auto *dialog = new QInputDialog(window());
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
