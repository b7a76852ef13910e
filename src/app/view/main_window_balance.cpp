#include "app/view/balance_stop.h"
#include "app/view/bench.h"
#include "app/view/day_sheet.h"
#include "app/view/main_window.h"
#include "app/view/read_stop.h"

#include "core/formats/names.h"

#include <QDir>
#include <QFileDialog>
#include <QInputDialog>
#include <QMenu>

namespace wavechroma::app {

void MainWindow::makeBalanceActions()
{
    const QString menu = tr("&Balance");
    auto *view = m_bench->readStop()->view();
    add(menu, "neutralArea", tr("Neutral from an Area"), QKeySequence("Ctrl+Alt+A"), tr("Two clicks round something neutral in the frame, where no chart is"), [this, view] {
        m_bench->openStop(1);
        view->startTool(FrameView::Tool::Area);
    });
    add(menu, "neutralWhole", tr("Neutral from the Whole Frame"), QKeySequence("Ctrl+Alt+W"), tr("For a frame through a diffuser, or filled by a grey board"), [this] { m_bench->balanceFromWholeFrame(); });
    add(menu, "balanceLight", tr("For a Light…"), QKeySequence("Ctrl+Alt+L"), tr("Kelvin and Duv, through this camera's own calibration"), [this] { askForLight(); });
    add(menu, "neutralDefault", tr("Back to the Chart's Grey"), QKeySequence("Ctrl+Alt+D"), tr("The lightest mid-grey that is not burnt"), [this] { m_bench->dropBalance(); });
    m_menus[menu]->addSeparator();
    const struct {
        const char *name;
        QString text, key;
        double warmer, rosier;
    } leans[] = {{"warmer", tr("Lean Warmer"), "Alt+Up", 1, 0}, {"cooler", tr("Lean Cooler"), "Alt+Down", -1, 0}, {"rosier", tr("Lean Rosier"), "Alt+Right", 0, 1}, {"greener", tr("Lean Greener"), "Alt+Left", 0, -1}};
    for (const auto &lean : leans)
        add(menu, lean.name, lean.text, QKeySequence(lean.key), tr("One step: a unit of a*b* on a grey of L* 65"), [this, lean] { m_bench->leanBy(lean.warmer, lean.rosier); });
    add(menu, "noLean", tr("No Lean"), QKeySequence("Alt+Home"), tr("The neutral as it was picked"), [this] { m_bench->leanTo({}); });
    m_menus[menu]->addSeparator();
    add(menu, "keepPreset", tr("Keep as Preset…"), QKeySequence("Ctrl+Alt+S"), tr("A file with the balance, its camera, lens and setup"), [this] { keepPreset(); });
    add(menu, "usePreset", tr("Use a Preset…"), QKeySequence("Ctrl+Alt+O"), tr("For this frame and those of its lane"), [this] { choosePreset(); });
    m_menus[menu]->addSeparator();
    add(menu, "exact", tr("Exact Colours"), QKeySequence("Ctrl+Alt+1"), tr("For products and artworks"), [this] { m_bench->useCharacter(Character::Exact); });
    add(menu, "calmReds", tr("Calm Reds"), QKeySequence("Ctrl+Alt+2"), tr("For skin: reds a little duller and yellower"), [this] { m_bench->useCharacter(Character::CalmReds); });
    add(menu, "lively", tr("Lively Colours"), QKeySequence("Ctrl+Alt+3"), tr("For show: middling colours stronger"), [this] { m_bench->useCharacter(Character::Lively); });
}

void MainWindow::askForLight()
{
    const auto &balance = m_bench->facts().balance;
    const auto light = balance && balance->temperature ? *balance->temperature : Temperature{5000, 0};
    auto *dialog = new QInputDialog(this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setWindowTitle(tr("Balance for a Light"));
    dialog->setLabelText(tr("Kelvin and, if known, Duv: 5000K,+0.002"));
    dialog->setTextValue(QString("%1K,%2%3").arg(light.cctKelvin, 0, 'f', 0).arg(light.duv < 0 ? "" : "+").arg(light.duv, 0, 'f', 4));
    connect(dialog, &QInputDialog::textValueSelected, this, [this](const QString &words) {
        const auto asked = temperatureFrom(words.simplified().remove(' ').toStdString());
        if (!asked)
            return showMessage(QString::fromStdString(asked.error().message));
        m_bench->openStop(2);
        m_bench->balanceFromLight(*asked);
    });
    dialog->open();
}

void MainWindow::keepPreset()
{
    auto *dialog = new QInputDialog(this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setWindowTitle(tr("Keep as Preset"));
    dialog->setLabelText(tr("Its name:"));
    dialog->setTextValue(m_bench->balanceStop()->figure(m_bench->facts()));
    connect(dialog, &QInputDialog::textValueSelected, this, [this](const QString &name) {
        if (name.trimmed().isEmpty())
            return;
        const auto folder = QString::fromStdString((m_job.store()->folder() / "handover").string());
        QDir().mkpath(folder);
        const auto file = folder + "/" + QString::fromStdString(fileNameOf(name.toStdString())) + ".balance.json";
        if (m_bench->keepPreset(file, name.trimmed()))
            showMessage(tr("Kept as %1.").arg(file));
    });
    dialog->open();
}

/// The frames of the lane that the bench's frame stands in: one setup, one camera and lens.
static std::vector<RowId> laneOf(const JobState &state, RowId frame)
{
    for (const auto &lane : lanesOf(state)) {
        std::vector<RowId> ids;
        bool here = false;
        for (const auto *each : lane.frames) {
            ids.push_back(each->id);
            here = here || each->id == frame;
        }
        if (here)
            return ids;
    }
    return {frame};
}

void MainWindow::choosePreset()
{
    const auto folder = QString::fromStdString((m_job.store()->folder() / "handover").string());
    const auto file = QFileDialog::getOpenFileName(this, tr("Use a Preset"), folder, tr("Balances (*.json)"));
    if (!file.isEmpty())
        m_bench->usePreset(file, laneOf(m_job.state(), m_job.currentFrame()));
}

} // namespace wavechroma::app
