// Balances, presets, and a product frame's level.
#include "app/view/window/balance_actions.h"
#include "app/model/spoken.h"
#include "app/view/bench/balance/balance_stop.h"
#include "app/view/bench/product/product_bench.h"
#include "core/tasks/export_task.h"
#include "core/tasks/fit_task.h"
#include "core/tasks/serve_task.h"

#include <QDir>
#include <QFileDialog>
#include <QInputDialog>

namespace wavechroma::app {

BalanceActions::BalanceActions(Desk *desk) : ActionGroup(desk) {}

MenuRows BalanceActions::rows()
{
    const auto editable = needs(&Availability::editable);
    const auto balanced = needs(&Availability::balanced);
    const auto lean = [this](double warmer, double rosier) {
        return [this, warmer, rosier] { editor()->leanBy(warmer, rosier); };
    };
    const QString step = tr("One step is one unit of a*b* on a grey of L* 65");
    using enum ActionRow::Place;
    MenuRows out{
        tr("&Balance"),
        {{"neutralArea", tr("Neutral from an Area"), "",
          tr("Click two opposite corners of something neutral in the frame"), editable,
          [this] {
              if (!m_bench->isProduct())
                  m_bench->openStop(1);
              m_bench->view()->startTool(FrameView::Tool::Area);
          }},
         {"neutralWhole", tr("Neutral from the Whole Frame"), "",
          tr("For a frame shot through a diffuser, or filled by a grey board"), editable,
          [this] { editor()->balanceFromWholeFrame(); }},
         {"neutralProposed", tr("Propose a Neutral"), "",
          tr("For a frame without a target: the plainest thing in it that a lamp could make look so"),
          editable, [this] { editor()->proposeNeutral(); }},
         {"balanceLight", tr("Balance for a Light…"), "",
          tr("Kelvin and Duv, through this camera's own calibration"), editable, [this] { askForLight(); }},
         {"neutralDefault", tr("Use the Chart's Grey Again"), "",
          tr("The lightest middle grey that is not clipped"), needs(&Availability::otherBalance),
          [this] { editor()->dropBalance(); }},
         {"warmer", tr("Lean Warmer"), "Alt+Up", step, balanced, lean(1, 0), NewGroup},
         {"cooler", tr("Lean Cooler"), "Alt+Down", step, balanced, lean(-1, 0)},
         {"rosier", tr("Lean Rosier"), "Alt+Right", step, balanced, lean(0, 1)},
         {"greener", tr("Lean Greener"), "Alt+Left", step, balanced, lean(0, -1)},
         {"noLean", tr("No Lean"), "Alt+Home", tr("Use the neutral without a lean"), balanced,
          [this] { editor()->leanTo({}); }},
         {"keepPreset", tr("Save as Preset…"), "",
          tr("Save the balance with its camera, lens and setup as a file"), balanced,
          [this] { keepPreset(); }, NewGroup},
         {"usePreset", tr("Use a Preset…"), "", tr("Use it for this frame and those of its lane"), editable,
          [this] { choosePreset(); }}}};
    const auto more = levelRows();
    out.rows.insert(out.rows.end(), more.begin(), more.end());
    return out;
}

std::vector<ActionRow> BalanceActions::levelRows()
{
    auto *product = m_bench->product();
    const auto editable = needs(&Availability::productEditable);
    using enum ActionRow::Place;
    return {
        {"servedBy", tr("Calibrate from…"), "",
         tr("Use another chart of this station, or a calibration of its own, for this frame"), editable,
         [this] { chooseServing(); }, NewGroup},
        {"lighter", tr("Lighter by a Third"), "Ctrl+Up", tr("Brightness of this frame, in thirds of a stop"),
         editable, [product] { product->editor()->levelBy(1); }},
        {"darker", tr("Darker by a Third"), "Ctrl+Down", tr("Brightness of this frame, in thirds of a stop"),
         editable, [product] { product->editor()->levelBy(-1); }},
        {"toStation", tr("Level and Balance to the Station"), "",
         tr("Copy them to all product frames of this light, camera and lens"), editable,
         [product] { product->editor()->carryToStation(); }}};
}

void BalanceActions::askForLight()
{
    const auto &balance = m_bench->facts().balance;
    const auto light = balance && balance->temperature ? *balance->temperature : Temperature{5000, 0};
    auto *dialog = question(tr("Balance for a Light"), tr("Kelvin and, if known, Duv: 5000K,+0.002"));
    dialog->setTextValue(QString("%1K,%2%3")
                             .arg(light.cctKelvin, 0, 'f', 0)
                             .arg(light.duv < 0 ? "" : "+")
                             .arg(light.duv, 0, 'f', 4));
    connect(dialog, &QInputDialog::textValueSelected, this, [this](const QString &words) {
        const auto asked = temperatureFrom(words.simplified().remove(' ').toStdString());
        if (!asked)
            return showMessage(text(asked.error()));
        m_bench->openStop(2);
        editor()->balanceFromLight(*asked);
    });
    dialog->open();
}

void BalanceActions::keepPreset()
{
    auto *dialog = question(tr("Save as Preset"), tr("Name of the preset:"));
    dialog->setTextValue(m_bench->balanceStop()->figure(m_bench->facts()));
    connect(dialog, &QInputDialog::textValueSelected, this, [this](const QString &name) {
        if (name.trimmed().isEmpty())
            return;
        const auto folder = handoverFolder();
        const auto file =
            folder + "/" + QString::fromStdString(fileNameOf(name.toStdString())) + ".balance.json";
        if (editor()->keepPreset(file, name.trimmed()))
            showMessage(tr("Saved as %1.").arg(file));
    });
    dialog->open();
}

/// The frames of the lane that the bench's frame stands in: one setup, one camera and lens.
static std::vector<RowId> laneOf(const Stations &stations, RowId frame)
{
    const auto *station = stations.of(frame);
    return station ? station->frames : std::vector{frame};
}

void BalanceActions::choosePreset()
{
    const auto folder = handoverFolder();
    const auto file =
        QFileDialog::getOpenFileName(window(), tr("Use a Preset"), folder, tr("Balances (*.json)"));
    if (!file.isEmpty())
        editor()->usePreset(file, laneOf(m_job.stations(), m_job.currentFrame()));
}

/// What may serve the frame on the bench, each with its name.
std::vector<BalanceActions::Source> BalanceActions::sources()
{
    const auto &facts = *m_bench->product()->editor()->facts();
    const auto &state = m_job.state();
    auto *editor = m_bench->product()->editor();
    std::vector<Source> out{{tr("Automatic"), !facts.frame->servedBy && !facts.frame->calibration,
                             [editor] { editor->serveBy(0); }}};
    for (const auto id : facts.charts) {
        const auto *row = state.calibrationOf(id, partsFor(state, id));
        const auto &chart = *state.frame(id);
        const auto at = text(chart.camera.capturedAt).mid(11, 8);
        const auto name =
            row && row->brief.isWhiteAlone()
                ? tr("Grey of %1").arg(at)
                : tr("Chart of %1%2%3")
                      .arg(at, row ? tr(", ΔE %1 unseen").arg(fixed(row->brief.unseen, 1)) : QString(),
                           chart.setAside ? tr(", refused by its checks") : QString());
        out.push_back({name, facts.frame->servedBy == id && !facts.frame->calibration,
                       [editor, id] { editor->serveBy(id); }});
    }
    for (const auto &row : state.calibrations)
        if (row.frame == 0 && !row.calibration.fault() &&
            samePair(row.calibration->camera, facts.frame->camera))
            out.push_back({text(row.brief.name), facts.frame->calibration == row.id,
                           [editor, id = row.id] { editor->serveByCalibration(id); }});
    out.push_back({tr("A Calibration's File…"), false, [this] { bringCalibration(); }});
    return out;
}

void BalanceActions::chooseServing()
{
    const auto &facts = *m_bench->product()->editor()->facts();
    if (!facts.frame)
        return;
    const auto all = sources();
    QStringList names;
    int now = 0;
    for (size_t i = 0; i < all.size(); ++i) {
        names << all[i].name;
        now = all[i].isNow ? int(i) : now;
    }
    auto *dialog = question(tr("Calibrate from"), tr("What this frame is calibrated from:"));
    dialog->setComboBoxItems(names);
    dialog->setTextValue(names[now]);
    connect(dialog, &QInputDialog::textValueSelected, this,
            [this, all, names, frame = facts.frame->id](const QString &chosen) {
                const auto at = names.indexOf(chosen);
                const auto *editor = m_bench->product()->editor();
                if (at >= 0 && editor->isHere() && editor->facts()->frame->id == frame)
                    all[size_t(at)].choose();
            });
    dialog->open();
}

void BalanceActions::bringCalibration()
{
    const auto file = QFileDialog::getOpenFileName(window(), tr("Calibrate from a File"), handoverFolder(),
                                                   tr("Calibrations (*.json)"));
    const auto calibration =
        file.isEmpty() ? Result<Calibration>(unusable("")) : loadCalibration(file.toStdString());
    if (file.isEmpty() || !m_bench->product()->editor()->isHere())
        return;
    if (!calibration)
        return showMessage(text(calibration.error()));
    const auto &frame = *m_bench->product()->editor()->facts()->frame;
    m_tasks.run<Refusal>(
        {"bring", tr("looking at the frame's light"), true},
        [calibration = *calibration, file = m_job.job().fileOf(frame)](const Progress &) {
            return doubtedCalibration(calibration, file);
        },
        this,
        [this, calibration = *calibration, id = frame.id](const Result<Refusal> &doubt) {
            if (!doubt)
                return showMessage(text(doubt.error()));
            const auto serve = [this, calibration, id] {
                auto *product = m_bench->product()->editor();
                if (product->isHere() && product->facts()->frame->id == id)
                    product->serveByCalibration(calibration);
            };
            if (*doubt)
                emit editor()->doubted(text(**doubt), serve);
            else
                serve();
        });
}

} // namespace wavechroma::app
