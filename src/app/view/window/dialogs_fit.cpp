// What the fit is told, matching cameras, and the profiles of a calibration.
#include "app/model/spoken.h"
#include "app/view/bench/bench.h"
#include "app/view/window/main_window.h"
#include "core/tasks/reference_task.h"
#include "core/words/fit_words.h"

#include <QInputDialog>

namespace wavechroma::app {

void MainWindow::askForWeights()
{
    auto *dialog =
        question(tr("Weight Patches"),
                 tr("A set, patches as in D1=4,C3=0.5, or colours as in near:52,40,20 (L*, a*, b*):"));
    QStringList sets{"even", "neutrals", "skin"};
    const auto now = editor()->weights();
    if (!sets.contains(now))
        sets.prepend(now);
    dialog->setComboBoxItems(sets);
    dialog->setComboBoxEditable(true);
    dialog->setTextValue(now);
    connect(dialog, &QInputDialog::textValueSelected, this,
            [this](const QString &words) { editor()->useWeights(words.simplified().remove(' ')); });
    dialog->open();
}

void MainWindow::askForFitLight()
{
    auto *dialog =
        question(tr("Light of the Fit"), tr("A, D50, D65, a temperature such as 4100K, or a spectrum file "
                                            "(nm,value).\nEmpty: estimated from the neutral."));
    const auto *chosen = m_bench->facts().chosen();
    dialog->setTextValue(chosen && !chosen->light.estimated && chosen->light.name != "unknown"
                             ? QString::fromStdString(chosen->light.name)
                             : QString());
    connect(dialog, &QInputDialog::textValueSelected, this,
            [this](const QString &words) { editor()->fitUnderLight(words.trimmed()); });
    dialog->open();
}

/// A frame's reading as a file in the job's handover folder; empty, with words, when it cannot be written.
static QString referenceFile(const JobDocument &job, const QString &folder, RowId frame, QString *problem)
{
    const auto *row = job.state().frame(frame);
    const auto *reading = job.state().readingOf(frame);
    if (!row || !reading)
        return {};
    if (const auto &fault = reading->reading.fault()) {
        *problem = text(*fault);
        return {};
    }
    const auto file = std::filesystem::path(folder.toStdString()) /
                      (std::filesystem::path(row->path).stem().string() + ".reading.json");
    const auto written = saveReading(file, *reading->reading);
    if (!written)
        *problem = text(written.error());
    return written ? text(file.string()) : QString();
}

void MainWindow::keepReference()
{
    QString problem;
    const auto file = referenceFile(m_job, handover(), m_job.currentFrame(), &problem);
    showMessage(file.isEmpty() ? problem : tr("Saved as %1.").arg(file));
}

void MainWindow::chooseMatch()
{
    const auto *here = m_job.state().frame(m_job.currentFrame());
    if (!here)
        return;
    QStringList names;
    std::vector<RowId> frames;
    for (const auto &frame : m_job.state().frames)
        if (const auto *reading = m_job.state().readingOf(frame.id);
            reading && reading->brief.found && !frame.setAside && !samePair(frame.camera, here->camera)) {
            names << QString::fromStdString(frame.camera.model + ", " + frame.camera.lens + ": " +
                                            std::filesystem::path(frame.path).filename().string());
            frames.push_back(frame.id);
        }
    if (frames.empty())
        return showMessage(tr("No chart frame of another camera or lens is in this job."));
    auto *dialog = question(tr("Match to Another Camera"),
                            tr("Make %1 look like:").arg(QString::fromStdString(here->camera.model)));
    dialog->setComboBoxItems(names);
    connect(dialog, &QInputDialog::textValueSelected, this, [this, names, frames](const QString &chosen) {
        if (const auto at = names.indexOf(chosen); at >= 0)
            matchTo(frames[size_t(at)]);
    });
    dialog->open();
}

void MainWindow::matchTo(RowId other)
{
    QString problem;
    const auto file = referenceFile(m_job, handover(), other, &problem);
    if (file.isEmpty())
        return showMessage(problem);
    FitRequest request;
    request.ask.parts = m_job.state().title.parts;
    request.ask.reference = file.toStdString();
    const auto *here = m_job.state().frame(m_job.currentFrame()), *there = m_job.state().frame(other);
    request.sha256 = here->sha256;
    request.ask.name =
        here->camera.model + " as " + there->camera.model + ", " + there->camera.capturedAt.substr(0, 10);
    m_tasks.run<Calibration>(
        {"match", tr("fitting to the other camera"), true},
        [reading = *m_bench->facts().reading, request](const Progress &progress) {
            return fitReading(reading, request, progress);
        },
        this,
        [this](const Result<Calibration> &matched) {
            if (!matched)
                return showMessage(text(matched.error()));
            QString said =
                tr("The two differ by ΔE %1 on unseen patches.").arg(fixed(matched->crossValidated.mean, 2));
            for (const auto &warning : matched->warnings)
                said += " " + text(words::warning(warning, spoken()));
            showMessage(said);
            openProfilesOf(*matched);
        });
}

/// A calibration that is none of the job's: its document is kept in the handover folder.
void MainWindow::openProfilesOf(const Calibration &calibration)
{
    const auto name = fileNameOf(calibration.name) + ".calibration.json";
    const auto file = std::filesystem::path(handover().toStdString()) / name;
    if (const auto kept = saveCalibration(file, calibration); !kept)
        return showMessage(text(kept.error()));
    m_handover->editor()->openProfilesOf(text(calibration.name), text("handover/" + name));
    showHandover();
}

void MainWindow::openProfiles()
{
    m_handover->editor()->openProfilesOf(subject());
    showHandover();
}

} // namespace wavechroma::app
