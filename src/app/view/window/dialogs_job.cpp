// Jobs made and opened, frames chosen and watched for.
#include "app/view/bench/bench.h"
#include "app/view/studio/studio_panel.h"
#include "app/view/widgets/task_strip.h"
#include "app/view/window/main_window.h"
#include "core/tasks/demo_task.h"
#include "core/tasks/job_task.h"

#include "app/model/spoken.h"
#include <QDir>
#include <QFileDialog>

namespace wavechroma::app {

void MainWindow::newJob()
{
    const auto folder =
        QFileDialog::getExistingDirectory(this, tr("Folder for the New Job"), QDir::homePath());
    if (folder.isEmpty())
        return;
    editor()->finishWork();
    if (const auto made = m_job.create(folder, QDir(folder).dirName()); !made)
        return showMessage(text(made.error()));
    showDaySheet();
}

void MainWindow::chooseJob()
{
    const auto folder = QFileDialog::getExistingDirectory(this, tr("Open Job"), QDir::homePath());
    if (!folder.isEmpty())
        openJob(folder);
}

void MainWindow::makeDemoJob()
{
    if (m_tasks.isBusy("demo"))
        return;
    const auto parent =
        QFileDialog::getExistingDirectory(this, tr("Folder for the Demo Day"), QDir::homePath());
    if (parent.isEmpty())
        return;
    const auto folder = QDir(parent).filePath("wavechroma-demo");
    if (holdsJob(folder.toStdString())) {
        openJob(folder); // made before
        return;
    }
    TaskSpec spec{"demo", tr("making the demo day")};
    spec.outlivesJob = true;
    m_tasks.run<Done>(
        spec,
        [folder = folder.toStdString()](const Progress &progress) { return makeDemo(folder, {}, progress); },
        this,
        [this, folder](const Result<Done> &done) {
            if (done)
                openJob(folder);
            else
                showMessage(text(done.error()));
        });
}

void MainWindow::chooseFrames()
{
    const auto files = QFileDialog::getOpenFileNames(this, tr("Add Frames"));
    if (!files.isEmpty())
        bringIn(files);
}

/// Frames that were to come in when it was stopped, or when the job was closed in the middle.
void MainWindow::offerWaiting()
{
    const auto count = m_intake.waiting().size();
    if (count > 0 && !m_job.isReadOnly())
        showMessage(count == 1
                        ? tr("One frame is still waiting. Choose Frames, Add Waiting Frames.")
                        : tr("%1 frames are still waiting. Choose Frames, Add Waiting Frames.").arg(count));
}

void MainWindow::chooseWatched()
{
    if (m_watch.isWatching()) {
        watchFolder({});
        return;
    }
    const auto folder = QFileDialog::getExistingDirectory(this, tr("Folder to Watch"), QDir::homePath());
    if (!folder.isEmpty())
        watchFolder(folder);
}

void MainWindow::watchFolder(const QString &folder)
{
    if (folder.isEmpty())
        m_watch.stop();
    else
        m_watch.start(folder);
    adapt();
}

/// The simulated camera is tethered to the folder that is watched; without one, to the job's own.
void MainWindow::shootingStarts()
{
    if (m_watch.isWatching())
        return;
    const auto folder = QString::fromStdString((m_job.store()->folder() / "incoming").string());
    if (QDir().mkpath(folder))
        watchFolder(folder);
}

} // namespace wavechroma::app
