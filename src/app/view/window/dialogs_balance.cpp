// Balance for a light, and presets.
#include "app/model/spoken.h"
#include "app/view/bench/balance/balance_stop.h"
#include "app/view/bench/bench.h"
#include "app/view/window/main_window.h"
#include "core/tasks/export_task.h"

#include <QDir>
#include <QFileDialog>
#include <QInputDialog>

namespace wavechroma::app {

void MainWindow::askForLight()
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

void MainWindow::keepPreset()
{
    auto *dialog = question(tr("Save as Preset"), tr("Name of the preset:"));
    dialog->setTextValue(m_bench->balanceStop()->figure(m_bench->facts()));
    connect(dialog, &QInputDialog::textValueSelected, this, [this](const QString &name) {
        if (name.trimmed().isEmpty())
            return;
        const auto folder = handover();
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

void MainWindow::choosePreset()
{
    const auto folder = handover();
    const auto file = QFileDialog::getOpenFileName(this, tr("Use a Preset"), folder, tr("Balances (*.json)"));
    if (!file.isEmpty())
        editor()->usePreset(file, laneOf(m_job.stations(), m_job.currentFrame()));
}

} // namespace wavechroma::app
