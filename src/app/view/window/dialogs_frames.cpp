// Setups, and what frames are for.
#include "app/model/spoken.h"
#include "app/view/bench/bench.h"
#include "app/view/day/setup_dialog.h"
#include "app/view/window/main_window.h"

#include <QFileDialog>
#include <QInputDialog>

namespace wavechroma::app {

void MainWindow::renameSetup(qint64 id)
{
    const auto &setups = m_job.state().setups;
    const auto at = std::find_if(setups.begin(), setups.end(), [&](const auto &s) { return s.id == id; });
    if (at == setups.end() || m_job.isReadOnly())
        return;
    const auto shown = m_job.stations().shownTime(id);
    auto *dialog = new SetupDialog(*at, QString::fromStdString(m_job.state().title.text),
                                   QString::fromStdString(m_job.store()->folder().string()), shown, this);
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
    auto *dialog = new SetupDialog(next, {}, QString::fromStdString(m_job.store()->folder().string()),
                                   ExposureTime::Unknown, this);
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

bool MainWindow::anyGone() const
{
    std::error_code code;
    const auto *row = m_job.state().frame(m_job.currentFrame());
    return row && !std::filesystem::exists(m_job.store()->fullPath(*row), code);
}

/// Where the frame on the bench, and others with it, went.
void MainWindow::findFramesAgain()
{
    const auto folder = QFileDialog::getExistingDirectory(this, tr("Where the Frames Are Now"));
    if (!folder.isEmpty())
        findFramesIn(folder);
}

void MainWindow::findFramesIn(const QString &folder)
{
    m_tasks.run<JobChange>(
        {"find again", tr("looking for moved frames"), true},
        [state = m_job.state(), job = m_job.store()->folder(),
         where = std::filesystem::path(folder.toStdString())](const Progress &progress) {
            return foundAgain(state, job, where, progress);
        },
        this,
        [this](const Result<JobChange> &found) {
            if (!found)
                return showMessage(text(found.error()));
            if (found->frames.empty())
                return showMessage(tr("None of the moved frames was found there."));
            m_job.push(tr("Find Moved Frames"), *found);
            showMessage(text(words::filled("{n} {n|frame was|frames were} found.",
                                           {{"n", double(found->frames.size())}}, spoken())));
        });
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
    auto *dialog = question(tr("Move to Setup"), tr("Setup that the frame was shot under:"));
    dialog->setComboBoxItems(names);
    dialog->setTextValue(names.value(current));
    connect(dialog, &QInputDialog::textValueSelected, this,
            [this, names, id = frame->id](const QString &name) {
                const auto at = names.indexOf(name);
                if (at >= 0 && size_t(at) < m_job.state().setups.size())
                    changeFrame(
                        id, tr("Move to Setup"),
                        [setup = m_job.state().setups[size_t(at)].id](JobFrame &row) { row.setup = setup; });
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

/// One frame's row as one step; nothing where the edit changes nothing.
void MainWindow::changeFrame(RowId frame, const QString &text, const std::function<void(JobFrame &)> &edit)
{
    const auto *row = m_job.state().frame(frame);
    if (!row || m_job.isReadOnly())
        return;
    auto after = *row;
    edit(after);
    JobChange change;
    if (!(after == *row))
        change.frames.push_back({*row, after});
    m_job.push(text, change);
}

void MainWindow::setPart(FramePart part)
{
    changeFrame(subject(), tr("Change What the Frame Is For"),
                [part](JobFrame &frame) { frame.part = part; });
}

void MainWindow::useAllTheSame()
{
    changeFrame(m_job.currentFrame(), tr("Use It Anyway"), [](JobFrame &frame) { frame.setAside = false; });
    showBench(m_job.currentFrame());
    m_bench->openStop(4);
}

void MainWindow::toggleSetAside()
{
    const auto *frame = m_job.state().frame(subject());
    if (frame)
        changeFrame(frame->id, frame->setAside ? tr("Take Frame Back") : tr("Set Frame Aside"),
                    [](JobFrame &row) { row.setAside = !row.setAside; });
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

} // namespace wavechroma::app
