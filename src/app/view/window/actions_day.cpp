// The rows of Job, Frames, View and Help.
#include "app/model/screen_profile.h"
#include "app/view/bench/bench.h"
#include "app/view/day/day_sheet.h"
#include "app/view/frame/frame_view.h"
#include "app/view/studio/studio_panel.h"
#include "app/view/window/main_window.h"

#include <algorithm>

namespace wavechroma::app {

MenuRows MainWindow::jobRows()
{
    const auto open = [this] { return whenOpen(); };
    using enum ActionRow::Place;
    MenuRows out{
        tr("&Job"),
        {{"newJob",
          tr("New Job…"),
          "Ctrl+N",
          tr("A folder for a client or a shoot"),
          {},
          [this] { newJob(); }},
         {"openJob", tr("Open Job…"), "", tr("A folder with a job in it"), {}, [this] { chooseJob(); }},
         {"demo",
          tr("Make Demo Day…"),
          "",
          tr("A day at a dye house, to try things with"),
          {},
          [this] { makeDemoJob(); }},
         {"closeJob", tr("Close Job"), "Ctrl+W", tr("Everything is already saved"), open,
          [this] {
              editor()->finishWork();
              m_job.close();
          },
          NewGroup},
         {"quit", tr("Quit"), "Ctrl+Q", tr("Everything is already saved"), {}, [this] { close(); }}}};
    const auto leaving = handoverRows();
    const auto close = std::find_if(out.rows.begin(), out.rows.end(),
                                    [](const ActionRow &row) { return std::string(row.id) == "closeJob"; });
    out.rows.insert(close, leaving.begin(), leaving.end());
    return out;
}

MenuRows MainWindow::framesRows()
{
    const auto writable = [this] { return whenWritable(); };
    const auto frame = [this] { return whenFrame(); };
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
          [this] {
              const auto why = whenWritable();
              return !why.isEmpty()                 ? why
                     : m_intake.waiting().isEmpty() ? tr("no frames are waiting.")
                                                    : QString();
          },
          [this] { m_intake.addWaiting(); }},
         {"watch", tr("Watch a Folder…"), "",
          tr("Adds every frame that another program saves there; choose again to stop"), writable,
          [this] { chooseWatched(); }},
         {"findAgain", tr("Find Moved Frames…"), "",
          tr("A folder to search for frames that were moved; they are recognised by their content"),
          [this] {
              const auto why = whenWritable();
              return !why.isEmpty() ? why
                     : anyGone()    ? QString()
                                    : tr("the frame on the bench was not moved.");
          },
          [this] { findFramesAgain(); }},
         {"studio",
          tr("Simulated Studio"),
          "F6",
          tr("Simulated lamps, table and camera, to try things with"),
          {},
          [this] {
              m_studio->setVisible(!m_studio->isVisible());
              adaptActions();
          },
          NewGroup,
          true},
         {"shoot", tr("Shoot in the Studio"), "Ctrl+Space", tr("Press the simulated camera's shutter"),
          [this] {
              const auto why = whenWritable();
              return !why.isEmpty()          ? why
                     : m_studio->isVisible() ? QString()
                                             : tr("the studio is not open (F6).");
          },
          [this] { m_studio->shoot(); }},
         {"changeLight", tr("Change the Light…"), "Ctrl+L",
          tr("Start a new setup as a copy of the last one; then shoot a chart"), writable,
          [this] { changeLight(); }, NewGroup},
         {"renameSetup", tr("Name the Setup…"), "Ctrl+R",
          tr("Lamps, modifiers and power, so that the setup can be built again"), writable, nameSetup},
         {"removeSetup", tr("Remove Empty Setup"), "", tr("Remove the last setup that holds no frames"),
          writable, [this] { removeSetup(); }},
         {"setAside", tr("Set Frame Aside"), "X",
          tr("Set a spoilt frame aside, or take it back; nothing is deleted"), frame,
          [this] { toggleSetAside(); }, NewGroup},
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
        out.rows.push_back(
            {part.id, part.text, part.key, tr("What the frame is for; guessed when it was added"),
             [this, p = part.part] {
                 const auto why = whenFrame();
                 return !why.isEmpty()                              ? why
                        : m_job.state().frame(subject())->part == p ? tr("the frame already is that.")
                                                                    : QString();
             },
             [this, p = part.part] { setPart(p); }, OfFrame});
    return out;
}

MenuRows MainWindow::viewRows()
{
    const auto open = [this] { return whenOpen(); };
    const auto onBench = [this] { return whenOnBench(); };
    const auto stop = [this](int number) {
        return [this, number] {
            if (!isOnBench())
                action("bench")->trigger();
            m_bench->openStop(number);
        };
    };
    using enum ActionRow::Place;
    return {tr("&View"),
            {{"daySheet", tr("Day sheet"), "F2", tr("Every frame of the job, by setup and time"), open,
              [this] { showDaySheet(); }, InMenu, true},
             {"bench", tr("Bench"), "F3", tr("One station: read, balance, fit, proof"), open,
              [this] {
                  const RowId chosen = m_daySheet->canvas()->selected();
                  showBench(chosen                 ? chosen
                            : m_job.currentFrame() ? m_job.currentFrame()
                                                   : m_job.stations().frameToOpen());
              },
              InMenu, true},
             {"handover", tr("Handover"), "F5",
              tr("What to deliver: frames, forms, and the files that will be written"), open,
              [this] { showHandover(); }, InMenu, true},
             {"stop1", tr("1 Read"), "1", tr("Where the chart is, and what the checks say"), open, stop(1),
              NewGroup},
             {"stop2", tr("2 Balance"), "2", tr("What is neutral"), open, stop(2)},
             {"stop3", tr("3 Fit"), "3", tr("Colour and tone of the calibration"), open, stop(3)},
             {"stop4", tr("4 Proof"), "4", tr("Error of each patch"), open, stop(4)},
             {"zoomFit", tr("Whole Frame"), "0", tr("The whole frame in the window"), onBench,
              [this] { m_bench->view()->zoomToFit(); }, NewGroup},
             {"zoomPixels", tr("100 %"), "9", tr("One frame pixel to one screen pixel"), onBench,
              [this] { m_bench->view()->zoomToPixels(); }},
             {"zoomIn", tr("Closer"), "+", tr("Also the wheel"), onBench,
              [this] { m_bench->view()->zoomBy(1.4); }},
             {"zoomOut", tr("Further"), "-", tr("Also the wheel"), onBench,
              [this] { m_bench->view()->zoomBy(1 / 1.4); }},
             {"surround",
              tr("Next Surround"),
              "F9",
              tr("Grey card, dark or paper: the surround that colours are judged in"),
              {},
              [this] {
                  m_surround = after(m_surround);
                  useSurround(m_surround);
              },
              NewGroup},
             {"monitorFile",
              tr("Monitor Profile…"),
              "Ctrl+F9",
              tr("An ICC profile of this monitor, used to show pictures and patches"),
              {},
              [this] { chooseMonitorProfile(); },
              NewGroup},
             {"monitorDesktop",
              tr("Monitor Profile of the Desktop"),
              "Shift+F9",
              tr("The profile that the desktop has for this monitor"),
              {},
              [this] { ScreenProfile::current().useDesktops(&m_tasks); },
              InMenu,
              true},
             {"monitorNone",
              tr("No Monitor Profile"),
              "",
              tr("Show pictures and patches for an sRGB monitor"),
              {},
              [] { ScreenProfile::current().useNone(); },
              InMenu,
              true},
             {"fullScreen", tr("Full Screen"), "F11", tr("Use the whole screen"), {}, [this] {
                  setWindowState(windowState() ^ Qt::WindowFullScreen);
              }}}};
}

MenuRows MainWindow::helpRows()
{
    return {tr("&Help"),
            {{"find",
              tr("Find an Action…"),
              "F7",
              tr("Type a part of its name; see its key, or why it cannot be used now"),
              {},
              [this] { findAction(); }},
             {"keys", tr("Keys"), "F1", tr("All keys, by place"), {}, [this] { showKeys(); }},
             {"guide",
              tr("Guide"),
              "Shift+F1",
              tr("The work from the first frame to the delivered files"),
              {},
              [this] { showGuide(); }},
             {"about", tr("About"), "Ctrl+F1", tr("Version, licence, and libraries"), {}, [this] {
                  showAbout();
              }}}};
}

} // namespace wavechroma::app
