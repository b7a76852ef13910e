#include "app/view/window/main_window.h"

#include "app/model/screen_profile.h"
#include "app/view/bench/bench.h"
#include "app/view/bench/product/product_bench.h"
#include "app/view/bench/product/product_view.h"
#include "app/view/bench/read/read_stop.h"
#include "app/view/day/day_sheet.h"
#include "app/view/widgets/top_bar.h"
#include "app/view/window/balance_actions.h"
#include "app/view/window/crop_actions.h"
#include "app/view/window/fit_actions.h"
#include "app/view/window/frame_actions.h"
#include "app/view/window/job_actions.h"
#include "app/view/window/proof_actions.h"
#include "app/view/window/read_actions.h"
#include "app/view/window/start_page.h"
#include "app/view/window/view_actions.h"
#include "core/tasks/job_task.h"

#include <QCloseEvent>
#include <QDragEnterEvent>
#include <QMenu>
#include <QMimeData>

namespace wavechroma::app {

MainWindow::MainWindow(QWidget *parent)
    : QMainWindow(parent), m_desk(new Desk), m_table(new ActionTable(this))
{
    setWindowTitle("Wavechroma");
    setAcceptDrops(true);
    resize(1280, 800);
    setCentralWidget(m_desk);
    makeActions();
    makeUndo();
    for (const char *place : {"daySheet", "bench", "agreement", "handover"})
        m_desk->bar()->addPlace(action(place));
    m_desk->showStart(new StartPage(action("demo"), action("newJob"), action("openJob")));
    connect(m_desk, &Desk::changed, this, &MainWindow::adapt);
    connect(m_desk, &Desk::factsChanged, this, &MainWindow::adaptSoon);
    connect(&ScreenProfile::current(), &ScreenProfile::changed, this, [this] {
        adapt();
        for (auto *widget : findChildren<QWidget *>()) // patches are painted in its codes
            widget->update();
    });
    m_desk->adapt();
}

void MainWindow::adapt()
{
    m_table->adapt(availabilityOf(*m_desk));
}

/// The desk goes first: the end of its work would be told to actions that are gone.
MainWindow::~MainWindow()
{
    m_desk->disconnect(this);
    delete m_desk;
}

void MainWindow::makeActions()
{
    m_frames = new FrameActions(m_desk);
    auto *view = new ViewActions(m_desk);
    m_table->add((new JobActions(m_desk))->rows());
    m_table->add(m_frames->rows());
    m_table->add((new ReadActions(m_desk))->rows());
    m_table->add((new BalanceActions(m_desk))->rows());
    m_table->add((new FitActions(m_desk))->rows());
    m_table->add((new CropActions(m_desk))->rows());
    m_table->add((new ProofActions(m_desk))->rows());
    m_table->add(view->rows());
    m_table->add(view->helpRows(m_table));
    m_table->offerOn(m_desk->daySheet()->canvas(), ActionRow::OfFrame);
    m_table->offerOn(m_desk->bench()->readStop()->view(), ActionRow::OfBench);
    m_table->offerOn(m_desk->bench()->product()->view(), ActionRow::OfBench);
    action("snap")->setChecked(true);
}

void MainWindow::makeUndo()
{
    auto *stack = m_desk->job()->undoStack();
    auto *editor = m_desk->editor();
    auto *undo = new QAction(tr("Undo"), this);
    connect(undo, &QAction::triggered, editor, &FrameEditor::takeBack);
    const auto showUndo = [undo, stack, editor] {
        undo->setEnabled(editor->canTakeBack());
        undo->setText(tr("Undo %1").arg(stack->undoText()).trimmed());
    };
    connect(stack, &QUndoStack::indexChanged, undo, showUndo);
    connect(editor, &FrameEditor::factsChanged, undo, showUndo);
    connect(m_desk->tasks(), &TaskRunner::ended, undo, showUndo);
    showUndo();
    auto *redo = stack->createRedoAction(this, tr("Redo"));
    undo->setObjectName("undo");
    undo->setShortcut(QKeySequence("Ctrl+Z"));
    redo->setObjectName("redo");
    redo->setShortcut(QKeySequence("Ctrl+Shift+Z"));
    auto *menu = m_table->menu(0);
    auto *before = action("closeJob");
    menu->insertActions(before, {undo, redo});
    menu->insertSeparator(before);
    addActions({undo, redo});
}

void MainWindow::adaptSoon()
{
    if (std::exchange(m_adaptsSoon, true))
        return;
    QMetaObject::invokeMethod(
        this,
        [this] {
            m_adaptsSoon = false;
            adapt();
        },
        Qt::QueuedConnection);
}

void MainWindow::dragEnterEvent(QDragEnterEvent *event)
{
    if (event->mimeData()->hasUrls())
        event->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent *event)
{
    QStringList paths;
    for (const auto &url : event->mimeData()->urls())
        if (url.isLocalFile())
            paths << url.toLocalFile();
    if (paths.size() == 1 && holdsJob(paths.first().toStdString()))
        m_desk->openJob(paths.first());
    else
        m_desk->bringIn(paths);
}

void MainWindow::keyPressEvent(QKeyEvent *event)
{
    if (event->key() == Qt::Key_Escape)
        m_desk->clearMessage();
    else
        QMainWindow::keyPressEvent(event);
}

void MainWindow::closeEvent(QCloseEvent *event)
{
    if (m_desk->holdsBack()) {
        event->ignore();
        return;
    }
    m_desk->intake()->stop();
    event->accept();
}

} // namespace wavechroma::app
