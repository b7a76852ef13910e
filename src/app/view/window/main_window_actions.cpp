#include "app/view/bench/bench.h"
#include "app/view/bench/read/read_stop.h"
#include "app/view/day/day_sheet.h"
#include "app/view/studio/studio_panel.h"
#include "app/view/widgets/top_bar.h"
#include "app/view/window/main_window.h"

#include <QMenuBar>
#include <QStackedWidget>

namespace wavechroma::app {

QAction *MainWindow::add(const QString &menu, const QString &name, const QString &text,
                         const QKeySequence &key, const QString &why, const std::function<void()> &run)
{
    if (!m_menus.contains(menu))
        m_menus[menu] = menuBar()->addMenu(menu);
    auto *made = new QAction(text, this);
    made->setObjectName(name);
    made->setShortcut(key);
    made->setToolTip(key.isEmpty() ? why : why + " (" + key.toString(QKeySequence::NativeText) + ")");
    made->setStatusTip(why);
    connect(made, &QAction::triggered, this, run);
    m_menus[menu]->addAction(made);
    m_menus[menu]->setToolTipsVisible(true);
    addAction(made);
    return made;
}

QAction *MainWindow::action(const QString &name) const
{
    return findChild<QAction *>(name);
}

void MainWindow::makeActions()
{
    makeJobActions();
    makeEditActions();
    makePlaceActions();
    makeChartActions();
    makeMatchActions();
    makeBalanceActions();
    makeViewActions();
}

void MainWindow::makeJobActions()
{
    const QString menu = tr("&Job");
    add(menu, "newJob", tr("New Job…"), QKeySequence("Ctrl+N"), tr("A folder for a client or a shoot"),
        [this] { newJob(); });
    add(menu, "openJob", tr("Open Job…"), QKeySequence("Ctrl+Shift+O"), tr("A folder with a job in it"),
        [this] { chooseJob(); });
    add(menu, "demo", tr("Make Demo Day…"), QKeySequence("Ctrl+Shift+D"),
        tr("A day at a dye house, to try things on"), [this] { makeDemoJob(); });
    m_menus[menu]->addSeparator();
    add(menu, "bringIn", tr("Bring In Frames…"), QKeySequence("Ctrl+O"),
        tr("Raw files and pictures; chart frames are answered at once"), [this] { chooseFrames(); });
    add(menu, "watch", tr("Watch a Folder…"), QKeySequence("Ctrl+Shift+W"),
        tr("Frames that a tethering program puts there come in by themselves; choose again to stop"),
        [this] { chooseWatched(); });
    auto *studio = add(menu, "studio", tr("Simulated Studio"), QKeySequence("F6"),
                       tr("Lamps, a table and a camera to try things on, without any of them"), [this] {
                           m_studio->setVisible(!m_studio->isVisible());
                           adaptActions();
                       });
    studio->setCheckable(true);
    add(menu, "shoot", tr("Shoot in the Studio"), QKeySequence("Ctrl+Space"),
        tr("Press the simulated camera's shutter"), [this] { m_studio->shoot(); });
    add(menu, "export", tr("Export Calibration…"), QKeySequence("Ctrl+E"),
        tr("Camera profile, ICC profile and tables for other programs"), [this] { exportCalibration(); });
    m_menus[menu]->addSeparator();
    add(menu, "closeJob", tr("Close Job"), QKeySequence("Ctrl+W"), tr("Everything is saved already"), [this] {
        m_bench->finishWork();
        m_job.close();
    });
    add(menu, "quit", tr("Quit"), QKeySequence("Ctrl+Q"), tr("Everything is saved already"),
        [this] { close(); });
}

void MainWindow::makeEditActions()
{
    const QString menu = tr("&Edit");
    m_menus[menu] = menuBar()->addMenu(menu);
    auto *undo = m_job.undoStack()->createUndoAction(this, tr("Undo"));
    undo->setObjectName("undo");
    undo->setShortcut(QKeySequence("Ctrl+Z"));
    auto *redo = m_job.undoStack()->createRedoAction(this, tr("Redo"));
    redo->setObjectName("redo");
    redo->setShortcut(QKeySequence("Ctrl+Shift+Z"));
    m_menus[menu]->addAction(undo);
    m_menus[menu]->addAction(redo);
    addActions({undo, redo});
    m_menus[menu]->addSeparator();
    add(menu, "renameSetup", tr("Name the Setup…"), QKeySequence("Ctrl+R"),
        tr("What the lights were, or nobody will know next month"), [this] {
            const auto *frame = m_job.state().frame(subject());
            if (!m_job.state().setups.empty())
                renameSetup(frame ? frame->setup : m_job.state().setups.back().id);
        });
    add(menu, "changeLight", tr("Change the Light…"), QKeySequence("Ctrl+L"),
        tr("A new setup from the last one; a chart is then due"), [this] { changeLight(); });
    m_menus[menu]->addSeparator();
    add(menu, "moveToSetup", tr("Move to Setup…"), QKeySequence("Ctrl+M"),
        tr("The frame was shot under another light"), [this] { moveToSetup(); });
    add(menu, "removeSetup", tr("Remove Empty Setup"), QKeySequence("Ctrl+Shift+L"),
        tr("The last one that holds no frames"), [this] { removeSetup(); });
    m_menus[menu]->addSeparator();
    const struct
    {
        FramePart part;
        QString text;
        Qt::Key key;
    } parts[] = {{FramePart::Chart, tr("This Is a Chart"), Qt::Key_C},
                 {FramePart::Flat, tr("This Is a Flat"), Qt::Key_F},
                 {FramePart::Grey, tr("This Is a Grey"), Qt::Key_G},
                 {FramePart::Product, tr("This Is a Product"), Qt::Key_P},
                 {FramePart::Check, tr("This Is a Check"), Qt::Key_K}};
    for (const auto &part : parts)
        add(menu, QString("part-") + wavechroma::nameOf(part.part), part.text,
            QKeySequence(int(Qt::ControlModifier | Qt::AltModifier) | int(part.key)),
            tr("What the frame is for; guessed when it came in"), [this, p = part.part] { setPart(p); });
    m_menus[menu]->addSeparator();
    add(menu, "setAside", tr("Set Frame Aside"), QKeySequence("X"),
        tr("Strike a spoilt frame through, or take it back; nothing is deleted"),
        [this] { toggleSetAside(); });
    add(menu, "removeFrame", tr("Remove Frame from Job"), QKeySequence("Del"),
        tr("The file on disk stays where it is"), [this] { removeFrame(); });
}

void MainWindow::makePlaceActions()
{
    const QString menu = tr("&Places");
    auto *day = add(menu, "daySheet", tr("Day sheet"), QKeySequence("F2"), tr("The job as it happened"),
                    [this] { showDaySheet(); });
    auto *bench = add(menu, "bench", tr("Bench"), QKeySequence("F3"),
                      tr("One station: read, balance, fit, proof"), [this] {
                          const RowId chosen = m_daySheet->canvas()->selected();
                          showBench(chosen                 ? chosen
                                    : m_job.currentFrame() ? m_job.currentFrame()
                                                           : frameToOpen(m_job.state()));
                      });
    for (auto *place : {day, bench}) {
        place->setCheckable(true);
        m_bar->addPlace(place);
    }
    m_menus[menu]->addSeparator();
    const struct
    {
        const char *name;
        QString text, why;
    } stops[] = {{"stop1", tr("Read"), tr("Where the chart lies and what was seen")},
                 {"stop2", tr("Balance"), tr("What is neutral")},
                 {"stop3", tr("Fit"), tr("Models by their unseen error")},
                 {"stop4", tr("Proof"), tr("How far off each patch is")}};
    for (int i = 0; i < 4; ++i)
        add(menu, stops[i].name, QString("%1 %2").arg(i + 1).arg(stops[i].text), QKeySequence(Qt::Key_1 + i),
            stops[i].why, [this, i] {
                if (m_stack->currentWidget() != m_bench)
                    action("bench")->trigger();
                m_bench->openStop(i + 1);
            });
}

void MainWindow::makeChartActions()
{
    const QString menu = tr("&Chart");
    add(menu, "readAgain", tr("Find Again"), QKeySequence("Ctrl+F"),
        tr("Search the whole frame anew; a placement by hand is dropped"), [this] { m_bench->readAgain(); });
    add(menu, "placeByHand", tr("Place by Hand"), QKeySequence("Ctrl+H"),
        tr("Lay the chart over the middle and drag it from there"), [this] {
            m_bench->openStop(1);
            m_bench->placeByHand();
        });
    auto *view = m_bench->readStop()->view();
    add(menu, "threeCorners", tr("Place by Three Clicks"), QKeySequence("Ctrl+Shift+H"),
        tr("First patch, last of the top row, last of all: the rest follows"), [this, view] {
            m_bench->openStop(1);
            view->startTool(FrameView::Tool::ThreeCorners);
        });
    add(menu, "chooseChart", tr("Which Chart…"), QKeySequence("Ctrl+K"),
        tr("Read the frame as another chart, or as a plain grid"), [this] { chooseChart(); });
    auto *snap = add(menu, "snap", tr("Draw Corners to the Patches"), QKeySequence("S"),
                     tr("A corner dropped near the printed one jumps onto it"), [] {});
    snap->setCheckable(true);
    snap->setChecked(true);
    connect(snap, &QAction::toggled, m_bench, &Bench::setSnapping);
    add(menu, "carry", tr("Carry Placement On"), QKeySequence("Ctrl+B"),
        tr("The chart frames that follow get this placement, found again in each"),
        [this] { m_bench->carryPlacement(); });
    add(menu, "patchesOff", tr("Patches Off…"), QKeySequence("Ctrl+P"),
        tr("Leave spoilt patches out; a click on one does it too"), [this] { switchPatchesOff(); });
    add(menu, "drawChart", tr("New Chart over This Frame…"), QKeySequence("Ctrl+Shift+N"),
        tr("The layout of a home-made chart, drawn over its picture"), [this] { drawChart(); });
    add(menu, "charts", tr("Charts and References…"), QKeySequence("Ctrl+Shift+C"),
        tr("Reference values by batch and date; measured, or from files"), [this] { editCharts(); });
    add(menu, "limits", tr("What Is Good Enough…"), QKeySequence("Ctrl+T"),
        tr("The tolerance sheet and the intended scale"), [this] { chooseLimits(); });
    m_menus[menu]->addSeparator();
    auto *hatch = add(menu, "hatch", tr("Hatch Burnt and Noisy"), QKeySequence("H"),
                      tr("Where the whole frame is burnt, by channel, or lost in noise"), [] {});
    auto *loupe = add(menu, "loupe", tr("Loupe"), QKeySequence("L"),
                      tr("Raw and coded values under the mouse, or by the arrows"), [] {});
    for (auto *each : {hatch, loupe})
        each->setCheckable(true);
    connect(hatch, &QAction::toggled, view, &FrameView::setHatched);
    connect(loupe, &QAction::toggled, view, &FrameView::setLoupe);
    add(menu, "ruler", tr("Ruler"), QKeySequence("R"), tr("Two clicks on a known length give the scale"),
        [this, view] {
            m_bench->openStop(1);
            view->startTool(FrameView::Tool::Ruler);
        });
    m_menus[menu]->addSeparator();
    add(menu, "zoomFit", tr("Whole Frame"), QKeySequence("0"), tr("The whole frame in the window"),
        [view] { view->zoomToFit(); });
    add(menu, "zoomPixels", tr("100 %"), QKeySequence("9"), tr("One frame pixel to one screen pixel"),
        [view] { view->zoomToPixels(); });
    add(menu, "zoomIn", tr("Closer"), QKeySequence("+"), tr("Also the wheel"), [view] { view->zoomBy(1.4); });
    add(menu, "zoomOut", tr("Further"), QKeySequence("-"), tr("Also the wheel"),
        [view] { view->zoomBy(1 / 1.4); });
}

void MainWindow::makeViewActions()
{
    const QString menu = tr("&View");
    add(menu, "surround", tr("Next Surround"), QKeySequence("F9"),
        tr("Grey card, dark, paper: the room the colours are judged in"), [this] {
            m_surround = after(m_surround);
            useSurround(m_surround);
        });
    add(menu, "fullScreen", tr("Full Screen"), QKeySequence("F11"), tr("Nothing but the work"),
        [this] { setWindowState(windowState() ^ Qt::WindowFullScreen); });
    add(menu, "callOut", tr("Answer for Across the Room"), QKeySequence("F4"),
        tr("One sentence in large letters; Space takes it away"), [this] {
            const RowId frame = subject() ? subject() : frameToOpen(m_job.state());
            m_job.setCurrentFrame(frame);
            showCallOut(frame);
        });
    add(menu, "keys", tr("Keys"), QKeySequence("F1"), tr("All keys on one sheet"), [this] { showKeys(); });
}

void MainWindow::adaptActions()
{
    const bool open = m_job.isOpen(), writable = open && !m_job.isReadOnly(),
               onBench = m_stack->currentWidget() == m_bench;
    const auto *frame = m_job.state().frame(subject());
    action("daySheet")->setEnabled(open);
    action("bench")->setEnabled(open);
    action("daySheet")->setChecked(open && m_stack->currentWidget() == m_daySheet);
    action("bench")->setChecked(open && onBench);
    for (const char *name : {"stop1", "stop2", "stop3", "stop4", "closeJob"})
        action(name)->setEnabled(open);
    action("callOut")->setEnabled(open && frameToOpen(m_job.state()));
    for (const auto part :
         {FramePart::Chart, FramePart::Flat, FramePart::Grey, FramePart::Product, FramePart::Check})
        action(QString("part-") + wavechroma::nameOf(part))
            ->setEnabled(writable && frame && frame->part != part);
    for (const char *name : {"bringIn", "renameSetup", "changeLight", "removeSetup", "watch"})
        action(name)->setEnabled(writable);
    for (const char *name : {"setAside", "removeFrame", "moveToSetup"})
        action(name)->setEnabled(writable && frame);
    action("studio")->setChecked(m_studio->isVisible());
    action("shoot")->setEnabled(writable && m_studio->isVisible());
    action("setAside")->setText(frame && frame->setAside ? tr("Take Frame Back") : tr("Set Frame Aside"));
    const bool hasFrame = onBench && m_job.currentFrame();
    for (const char *name :
         {"readAgain", "placeByHand", "threeCorners", "chooseChart", "carry", "patchesOff", "drawChart"})
        action(name)->setEnabled(writable && hasFrame);
    const bool hasBalance = hasFrame && writable && m_bench->facts().balance;
    for (const char *name : {"neutralArea", "neutralWhole", "balanceLight", "usePreset"})
        action(name)->setEnabled(writable && hasFrame);
    for (const char *name : {"warmer", "cooler", "rosier", "greener", "keepPreset", "noLean"})
        action(name)->setEnabled(hasBalance);
    action("neutralDefault")->setEnabled(hasBalance && m_bench->facts().balanceIsChosen);
    const bool hasReading = hasFrame && m_bench->facts().reading && m_bench->facts().reading->found;
    for (const char *name : {"keepReference", "match"})
        action(name)->setEnabled(hasReading && writable);
    for (const char *name :
         {"exact", "calmReds", "lively", "weights", "merge", "fitLight", "asUnderLight", "asUnderD50"})
        action(name)->setEnabled(hasFrame && writable && m_bench->facts().chosen());
    for (const char *name : {"hatch", "loupe", "ruler", "snap"})
        action(name)->setEnabled(hasFrame);
    for (const char *name : {"charts", "limits"})
        action(name)->setEnabled(writable);
    for (const char *name : {"zoomFit", "zoomPixels", "zoomIn", "zoomOut"})
        action(name)->setEnabled(hasFrame);
    action("export")->setEnabled(open && frame &&
                                 m_job.state().calibrationOf(frame->id, modelFor(m_job.state(), frame->id)));
}

} // namespace wavechroma::app
