// Frames, setups, and what frames are for.
#include "app/view/window/frame_actions.h"
#include "app/model/spoken.h"
#include "app/view/day/call_out.h"
#include "app/view/day/day_sheet.h"
#include "app/view/day/setup_dialog.h"
#include "app/view/studio/studio_panel.h"

#include <QDir>
#include <QFileDialog>
#include <QInputDialog>
#include <algorithm>

namespace wavechroma::app {

FrameActions::FrameActions(Desk *desk) : ActionGroup(desk)
{
    connect(desk, &Desk::writableOpened, this, &FrameActions::offerWaiting);
    connect(desk, &Desk::settled, this, &FrameActions::offerWaiting);
    connect(desk->studio(), &StudioPanel::aboutToShoot, this, &FrameActions::shootingStarts);
    connect(desk->daySheet()->canvas(), &DayCanvas::renameAsked, this, &FrameActions::renameSetup);
    connect(desk->callOut(), &CallOut::useAsked, this, &FrameActions::useAllTheSame);
}

MenuRows FrameActions::rows()
{
    const auto writable = needs(&Availability::writable);
    const auto frame = needs(&Availability::frame);
    const auto nameSetup = [this] {
        const auto *chosen = m_job.state().frame(subject());
        if (!m_job.state().setups.empty())
            renameSetup(chosen ? chosen->setup : m_job.state().setups.back().id);
    };
    using enum ActionRow::Place;
    MenuRows out{
        tr("F&rames"),
        {{"bringIn", tr("Add Frames…"), "Ctrl+O",
          tr("Raw files and pictures; chart frames are judged at once"), writable,
          [this] { chooseFrames(); }},
         {"bringInWaiting", tr("Add Waiting Frames"), "",
          tr("Frames that were still to be added when the program was stopped"),
          needs(&Availability::waiting), [this] { m_intake.addWaiting(); }},
         named({"watch", tr("Watch a Folder…"), "",
                tr("Adds every frame that another program saves there; choose again to stop"), writable,
                [this] { chooseWatched(); }},
               [](const Availability &now) {
                   return now.isWatching ? tr("Stop Watching") : tr("Watch a Folder…");
               }),
         {"findAgain", tr("Find Moved Frames…"), "",
          tr("A folder to search for frames that were moved; they are recognised by their content"),
          needs(&Availability::moved), [this] { findFramesAgain(); }},
         ticked({"studio",
                 tr("Simulated Studio"),
                 "F6",
                 tr("Simulated lamps, table and camera, to try things with"),
                 {},
                 [this] {
                     m_desk->studio()->setVisible(!m_desk->studio()->isVisible());
                     m_desk->adapt();
                 },
                 NewGroup},
                [](const Availability &now) { return now.isStudioShown; }),
         {"shoot", tr("Shoot in the Studio"), "Ctrl+Space", tr("Press the simulated camera's shutter"),
          needs(&Availability::studio), [this] { m_desk->studio()->shoot(); }},
         {"changeLight", tr("Change the Light…"), "Ctrl+L",
          tr("Start a new setup as a copy of the last one; then shoot a chart"), writable,
          [this] { changeLight(); }, NewGroup},
         {"renameSetup", tr("Name the Setup…"), "Ctrl+R",
          tr("Lamps, modifiers and power, so that the setup can be built again"), writable, nameSetup},
         {"removeSetup", tr("Remove Empty Setup"), "", tr("Remove the last setup that holds no frames"),
          writable, [this] { removeSetup(); }},
         named({"setAside", tr("Set Frame Aside"), "X",
                tr("Set a spoilt frame aside, or take it back; nothing is deleted"), frame,
                [this] { toggleSetAside(); }, NewGroup},
               [](const Availability &now) {
                   return now.isSetAside ? tr("Take Frame Back") : tr("Set Frame Aside");
               }),
         {"moveToSetup", tr("Move to Setup…"), "Ctrl+M", tr("For a frame that was shot under another light"),
          frame, [this] { moveToSetup(); }, OfFrame},
         {"removeFrame", tr("Remove Frame from Job"), "Del", tr("The file on disk stays where it is"), frame,
          [this] { removeFrame(); }, OfFrame}}};
    const struct
    {
        const char *id;
        FramePart part;
        QString text;
        const char *key;
    } parts[] = {{"part-chart", FramePart::Chart, tr("This Is a Chart"), ""},
                 {"part-flat", FramePart::Flat, tr("This Is a Flat"), ""},
                 {"part-grey", FramePart::Grey, tr("This Is a Grey"), ""},
                 {"part-product", FramePart::Product, tr("This Is a Product"), ""},
                 {"part-check", FramePart::Check, tr("This Is a Check"), ""}};
    for (const auto &part : parts)
        out.rows.push_back({part.id, part.text, part.key,
                            tr("What the frame is for; guessed when it was added"),
                            [p = part.part](const Availability &now) { return now.otherPart[size_t(p)]; },
                            [this, p = part.part] { setPart(p); }, OfFrame});
    return out;
}

void FrameActions::chooseFrames()
{
    const auto files = QFileDialog::getOpenFileNames(window(), tr("Add Frames"));
    if (!files.isEmpty())
        m_desk->bringIn(files);
}

/// Frames that were to come in when it was stopped, or when the job was closed in the middle.
void FrameActions::offerWaiting()
{
    const auto count = m_intake.waiting().size();
    if (count > 0 && !m_job.isReadOnly())
        showMessage(count == 1
                        ? tr("One frame is still waiting. Choose Frames, Add Waiting Frames.")
                        : tr("%1 frames are still waiting. Choose Frames, Add Waiting Frames.").arg(count));
}

void FrameActions::chooseWatched()
{
    if (m_watch.isWatching()) {
        watchFolder({});
        return;
    }
    const auto folder = QFileDialog::getExistingDirectory(window(), tr("Folder to Watch"), QDir::homePath());
    if (!folder.isEmpty())
        watchFolder(folder);
}

void FrameActions::watchFolder(const QString &folder)
{
    if (folder.isEmpty())
        m_watch.stop();
    else
        m_watch.start(folder);
    m_desk->adapt();
}

/// The simulated camera is tethered to the folder that is watched; without one, to the job's own.
void FrameActions::shootingStarts()
{
    if (m_watch.isWatching())
        return;
    const auto folder = QString::fromStdString((m_job.store()->folder() / "incoming").string());
    if (QDir().mkpath(folder))
        watchFolder(folder);
}

void FrameActions::renameSetup(qint64 id)
{
    const auto &setups = m_job.state().setups;
    const auto at = std::find_if(setups.begin(), setups.end(), [&](const auto &s) { return s.id == id; });
    if (at == setups.end() || m_job.isReadOnly())
        return;
    const auto shown = m_job.stations().shownTime(id);
    auto *dialog = new SetupDialog(*at, QString::fromStdString(m_job.state().title.text),
                                   QString::fromStdString(m_job.store()->folder().string()), shown, window());
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

void FrameActions::changeLight()
{
    const auto &state = m_job.state();
    if (state.setups.empty())
        return;
    JobSetup next = state.setups.back();
    next.id = nextId(state);
    auto *dialog = new SetupDialog(next, {}, QString::fromStdString(m_job.store()->folder().string()),
                                   ExposureTime::Unknown, window());
    dialog->setWindowTitle(tr("Change the Light"));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    connect(dialog, &QDialog::accepted, this, [this, dialog] {
        JobChange change;
        change.setups.push_back({std::nullopt, dialog->setup()});
        m_job.push(tr("Change the Light"), change);
        m_desk->showDaySheet();
    });
    dialog->open();
}

/// Where the frame on the bench, and others with it, went.
void FrameActions::findFramesAgain()
{
    const auto folder = QFileDialog::getExistingDirectory(window(), tr("Where the Frames Are Now"));
    if (!folder.isEmpty())
        findFramesIn(folder);
}

void FrameActions::findFramesIn(const QString &folder)
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

void FrameActions::moveToSetup()
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
void FrameActions::removeSetup()
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
void FrameActions::changeFrame(RowId frame, const QString &text, const std::function<void(JobFrame &)> &edit)
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

void FrameActions::setPart(FramePart part)
{
    if (part == FramePart::Grey && !m_job.state().readingOf(subject()))
        return editor()->readWhite(subject());
    changeFrame(subject(), tr("Change What the Frame Is For"),
                [part](JobFrame &frame) { frame.part = part; });
}

void FrameActions::useAllTheSame()
{
    changeFrame(m_job.currentFrame(), tr("Use It Anyway"), [](JobFrame &frame) { frame.setAside = false; });
    m_desk->showBench(m_job.currentFrame());
    m_bench->openStop(4);
}

void FrameActions::toggleSetAside()
{
    const auto *frame = m_job.state().frame(subject());
    if (frame)
        changeFrame(frame->id, frame->setAside ? tr("Take Frame Back") : tr("Set Frame Aside"),
                    [](JobFrame &row) { row.setAside = !row.setAside; });
}

void FrameActions::removeFrame()
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
