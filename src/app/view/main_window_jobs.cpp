#include "app/view/bench.h"
#include "app/view/day_sheet.h"
#include "app/view/export_dialog.h"
#include "app/view/main_window.h"
#include "app/view/setup_dialog.h"
#include "app/view/task_strip.h"
#include "core/tasks/demo_task.h"

#include <QDir>
#include <QFileDialog>
#include <QInputDialog>
#include <QLabel>
#include <QVBoxLayout>
#include <QtConcurrent>

namespace wavechroma::app {

void MainWindow::newJob()
{
    const auto folder =
        QFileDialog::getExistingDirectory(this, tr("Folder for the New Job"), QDir::homePath());
    if (folder.isEmpty())
        return;
    m_bench->finishWork();
    const auto made = m_job.create(folder, QDir(folder).dirName());
    if (!made) {
        showMessage(QString::fromStdString(made.error().message));
        return;
    }
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
    if (m_demo.isRunning())
        return;
    const auto parent =
        QFileDialog::getExistingDirectory(this, tr("Where the Demo Day Goes"), QDir::homePath());
    if (parent.isEmpty())
        return;
    m_demoFolder = QDir(parent).filePath("wavechroma-demo");
    if (JobStore::holdsJob(m_demoFolder.toStdString())) {
        openJob(m_demoFolder); // made before
        return;
    }
    m_demoStopped = false;
    Progress progress;
    progress.cancelled = &m_demoStopped;
    progress.report = [this](double fraction, std::string_view) {
        QMetaObject::invokeMethod(
            this,
            [this, fraction] {
                if (m_demo.isRunning())
                    m_strip->showProgress(fraction, tr("making the demo day"), true);
            },
            Qt::QueuedConnection);
    };
    disconnect(&m_demo, nullptr, this, nullptr);
    connect(&m_demo, &QFutureWatcherBase::finished, this, [this] {
        m_strip->endProgress();
        const auto done = m_demo.result();
        if (done)
            openJob(m_demoFolder);
        else if (!m_demoStopped)
            showMessage(QString::fromStdString(done.error().message));
    });
    m_demo.setFuture(QtConcurrent::run(
        [folder = m_demoFolder.toStdString(), progress] { return makeDemo(folder, {}, progress); }));
}

void MainWindow::chooseFrames()
{
    const auto files = QFileDialog::getOpenFileNames(this, tr("Bring In Frames"));
    if (!files.isEmpty())
        bringIn(files);
}

/// Calibrations of the same camera and lens under other lights, one a setup, and the frame's own file where
/// it is a DNG.
static ExportSubject exportSubjectOf(const JobDocument &job, const JobCalibration &row)
{
    const auto &state = job.state();
    const auto neutralOf = [&](RowId frame) -> std::optional<Vector3> {
        const auto *reading = state.readingOf(frame);
        const auto chart = reading ? chartOf(reading->reading) : Result<ChartDefinition>(unusable(""));
        return chart ? neutralIn(reading->reading, *chart) : std::nullopt;
    };
    const auto *frame = state.frame(row.frame);
    ExportSubject subject{row.calibration, neutralOf(row.frame).value_or(Vector3{1, 1, 1}), {}, {}, {}};
    for (const auto &setup : state.setups)
        for (const auto &other : state.calibrations) {
            const auto *shot = state.frame(other.frame);
            const bool joins = frame && shot && setup.id != frame->setup && shot->setup == setup.id &&
                               !shot->setAside && other.calibration.model == row.calibration.model &&
                               samePair(shot->camera, frame->camera);
            const auto neutral = joins ? neutralOf(other.frame) : std::nullopt;
            if (!neutral)
                continue;
            subject.partners.push_back(
                {QString::fromStdString(setup.title + ", " + other.calibration.light.name), other.calibration,
                 *neutral});
            break;
        }
    const auto file = frame ? std::filesystem::path(frame->path).is_absolute()
                                  ? std::filesystem::path(frame->path)
                                  : job.store()->folder() / frame->path
                            : std::filesystem::path();
    if (QString::fromStdString(file.string()).endsWith(".dng", Qt::CaseInsensitive))
        subject.dng = QString::fromStdString(file.string());
    if (frame && frame->balance) {
        const auto m = frame->balance->leaned.value_or(frame->balance->multipliers);
        subject.balance = Vector3{1 / m[0], 1, 1 / m[2]};
    }
    return subject;
}

void MainWindow::exportCalibration()
{
    const auto *row = m_job.state().calibrationOf(subject(), modelFor(m_job.state(), subject()));
    if (!row)
        return;
    exportThis(exportSubjectOf(m_job, *row));
}

void MainWindow::exportThis(const ExportSubject &subject)
{
    const auto folder = QString::fromStdString((m_job.store()->folder() / "handover").string());
    if (!m_job.isReadOnly())
        QDir().mkpath(folder);
    auto *dialog = new ExportDialog(subject, folder, this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    connect(dialog, &QDialog::accepted, this, [this, dialog] { showMessage(dialog->summary()); });
    dialog->open();
}

void MainWindow::renameSetup(qint64 id)
{
    const auto &setups = m_job.state().setups;
    const auto at = std::find_if(setups.begin(), setups.end(), [&](const auto &s) { return s.id == id; });
    if (at == setups.end() || m_job.isReadOnly())
        return;
    auto *dialog = new SetupDialog(*at, QString::fromStdString(m_job.state().title.text),
                                   QString::fromStdString(m_job.store()->folder().string()), this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    connect(dialog, &QDialog::accepted, this, [this, dialog, before = *at] {
        JobChange change;
        if (!(dialog->setup() == before))
            change.setups.push_back({before, dialog->setup()});
        auto title = m_job.state().title;
        if (dialog->jobTitle().toStdString() != title.text) {
            const auto old = title;
            title.text = dialog->jobTitle().toStdString();
            change.titles.push_back({old, title});
        }
        m_job.push(tr("Name the Setup"), change);
    });
    dialog->open();
}

void MainWindow::changeLight()
{
    const auto &state = m_job.state();
    if (state.setups.empty())
        return;
    JobSetup next = state.setups.back();
    next.id = nextId(state);
    auto *dialog = new SetupDialog(next, {}, QString::fromStdString(m_job.store()->folder().string()), this);
    dialog->setWindowTitle(tr("Change the Light"));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    connect(dialog, &QDialog::accepted, this, [this, dialog] {
        JobChange change;
        change.setups.push_back({std::nullopt, dialog->setup()});
        m_job.push(tr("Change the Light"), change);
        showDaySheet();
    });
    dialog->open();
}

void MainWindow::moveToSetup()
{
    const auto &state = m_job.state();
    const auto *frame = state.frame(subject());
    if (!frame)
        return;
    QStringList names;
    int current = 0;
    for (size_t i = 0; i < state.setups.size(); ++i) {
        names << QString("%1 · %2").arg(i + 1).arg(QString::fromStdString(state.setups[i].title));
        if (state.setups[i].id == frame->setup)
            current = int(i);
    }
    auto *dialog = new QInputDialog(this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setWindowTitle(tr("Move to Setup"));
    dialog->setLabelText(tr("The light that the frame was shot under:"));
    dialog->setComboBoxItems(names);
    dialog->setTextValue(names.value(current));
    connect(dialog, &QInputDialog::textValueSelected, this,
            [this, names, id = frame->id](const QString &name) {
                const auto at = names.indexOf(name);
                const auto *row = m_job.state().frame(id);
                if (at < 0 || !row || size_t(at) >= m_job.state().setups.size())
                    return;
                auto after = *row;
                after.setup = m_job.state().setups[size_t(at)].id;
                JobChange change;
                if (!(after == *row))
                    change.frames.push_back({*row, after});
                m_job.push(tr("Move to Setup"), change);
            });
    dialog->open();
}

/// Only an empty one, and never the last: frames do not vanish with their light.
void MainWindow::removeSetup()
{
    const auto &state = m_job.state();
    for (auto setup = state.setups.rbegin(); setup != state.setups.rend() && state.setups.size() > 1;
         ++setup) {
        if (std::any_of(state.frames.begin(), state.frames.end(),
                        [&](const auto &f) { return f.setup == setup->id; }))
            continue;
        JobChange change;
        change.setups.push_back({*setup, std::nullopt});
        m_job.push(tr("Remove Empty Setup"), change);
        return;
    }
    showMessage(tr("No setup is empty. Move its frames to another one first, with Ctrl+M."));
}

void MainWindow::setPart(FramePart part)
{
    const auto *frame = m_job.state().frame(subject());
    if (!frame || frame->part == part)
        return;
    auto after = *frame;
    after.part = part;
    JobChange change;
    change.frames.push_back({*frame, after});
    m_job.push(tr("Change What the Frame Is For"), change);
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
    action("watch")->setText(m_watch.isWatching() ? tr("Stop Watching") : tr("Watch a Folder…"));
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

void MainWindow::useAllTheSame()
{
    const auto *frame = m_job.state().frame(m_job.currentFrame());
    if (frame && frame->setAside && !m_job.isReadOnly()) {
        auto after = *frame;
        after.setAside = false;
        JobChange change;
        change.frames.push_back({*frame, after});
        m_job.push(tr("Use It All the Same"), change);
    }
    showBench(m_job.currentFrame());
    m_bench->openStop(4);
}

void MainWindow::toggleSetAside()
{
    const auto *frame = m_job.state().frame(subject());
    if (!frame)
        return;
    auto after = *frame;
    after.setAside = !after.setAside;
    JobChange change;
    change.frames.push_back({*frame, after});
    m_job.push(after.setAside ? tr("Set Frame Aside") : tr("Take Frame Back"), change);
}

void MainWindow::removeFrame()
{
    const auto &state = m_job.state();
    const auto *frame = state.frame(subject());
    if (!frame)
        return;
    JobChange change;
    change.frames.push_back({*frame, std::nullopt});
    for (const auto &reading : state.readings)
        if (reading.frame == frame->id)
            change.readings.push_back({reading, std::nullopt});
    for (const auto &calibration : state.calibrations)
        if (calibration.frame == frame->id)
            change.calibrations.push_back({calibration, std::nullopt});
    m_job.push(tr("Remove Frame from Job"), change);
}

void MainWindow::showKeys()
{
    auto *sheet = new QDialog(this);
    sheet->setAttribute(Qt::WA_DeleteOnClose);
    sheet->setWindowTitle(tr("Keys"));
    QString rows;
    for (const auto *each : actions())
        if (!each->shortcut().isEmpty())
            rows += QString("<tr><td width='130'><b>%1</b></td><td>%2</td></tr>")
                        .arg(each->shortcut().toString(QKeySequence::NativeText).toHtmlEscaped(),
                             QString(each->text()).remove('&').toHtmlEscaped());
    rows += "<tr><td><b>Tab, arrows, [ ]</b></td><td>" +
            tr("in the open Read stop: choose a corner, move it, size the windows") + "</td></tr>";
    auto *label = new QLabel("<table cellspacing='5'>" + rows + "</table>");
    auto *layout = new QVBoxLayout(sheet);
    layout->addWidget(label);
    sheet->open();
}

} // namespace wavechroma::app
