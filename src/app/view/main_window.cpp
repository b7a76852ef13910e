#include "app/view/main_window.h"

#include "app/model/thumbnails.h"
#include "app/view/bench.h"
#include "app/view/call_out.h"
#include "app/view/day_sheet.h"
#include "app/view/start_page.h"
#include "app/view/studio_panel.h"
#include "app/view/task_strip.h"
#include "app/view/top_bar.h"

#include <QApplication>
#include <QCloseEvent>
#include <QDragEnterEvent>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QMimeData>
#include <QStackedWidget>
#include <QVBoxLayout>

namespace wavechroma::app {

MainWindow::MainWindow(QWidget *parent)
    : QMainWindow(parent), m_intake(&m_job), m_watch(&m_job), m_thumbnails(new Thumbnails(&m_job, this)),
      m_bar(new TopBar), m_stack(new QStackedWidget), m_daySheet(new DaySheet(&m_job, m_thumbnails)),
      m_bench(new Bench(&m_job)), m_strip(new TaskStrip), m_studio(new StudioPanel)
{
    setWindowTitle("Wavechroma");
    setAcceptDrops(true);
    resize(1280, 800);
    makeActions();
    m_start = new StartPage(action("demo"), action("newJob"), action("openJob"));
    auto *centre = new QWidget;
    auto *layout = new QVBoxLayout(centre);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addWidget(m_bar);
    auto *middle = new QHBoxLayout;
    middle->setSpacing(0);
    middle->addWidget(m_stack, 1);
    middle->addWidget(m_studio);
    m_studio->hide();
    layout->addLayout(middle, 1);
    layout->addWidget(m_strip);
    setCentralWidget(centre);
    m_stack->addWidget(m_start);
    m_stack->addWidget(m_daySheet);
    m_stack->addWidget(m_bench);
    m_callOut = new CallOut(centre);

    connect(&m_job, &JobDocument::opened, this, [this] {
        if (!m_job.isOpen())
            m_stack->setCurrentWidget(m_start);
        adapt();
    });
    connect(&m_job, &JobDocument::changed, this, &MainWindow::adapt);
    connect(&m_job, &JobDocument::currentFrameChanged, this, &MainWindow::adapt);
    connect(&m_job, &JobDocument::failed, this, &MainWindow::showMessage);
    connect(&m_intake, &Intake::progress, this, [this](double f, const QString &step) {
        if (m_intake.isRunning())
            m_strip->showProgress(f, step, true);
    });
    connect(&m_intake, &Intake::problem, this, &MainWindow::showMessage);
    connect(&m_intake, &Intake::chartArrived, this, [this](qint64 frame) { m_arrived.push_back(frame); });
    connect(&m_intake, &Intake::finished, this, &MainWindow::arrived);
    connect(&m_watch, &FolderWatch::arrived, this, &MainWindow::bringIn);
    connect(&m_watch, &FolderWatch::problem, this, &MainWindow::showMessage);
    connect(m_callOut, &CallOut::dismissed, this, &MainWindow::showDaySheet);
    connect(m_callOut, &CallOut::useAsked, this, &MainWindow::useAllTheSame);
    connect(m_strip, &TaskStrip::stopAsked, this, [this] {
        m_intake.stop();
        m_studio->stop();
        m_demoStopped = true;
    });
    connect(m_studio, &StudioPanel::aboutToShoot, this, &MainWindow::shootingStarts);
    connect(m_studio, &StudioPanel::progress, this, [this](double f, const QString &step) {
        if (m_studio->isShooting() && !m_intake.isRunning())
            m_strip->showProgress(f, step, true);
    });
    connect(m_studio, &StudioPanel::shot, this, [this] {
        if (!m_intake.isRunning())
            m_strip->endProgress();
    });
    connect(m_studio, &StudioPanel::problem, this, &MainWindow::showMessage);
    connect(m_daySheet->canvas(), &DayCanvas::openAsked, this, &MainWindow::showBench);
    connect(m_daySheet->canvas(), &DayCanvas::selectionChanged, this, &MainWindow::adapt);
    connect(m_daySheet->canvas(), &DayCanvas::renameAsked, this, &MainWindow::renameSetup);
    connect(m_bench, &Bench::busyChanged, this, [this](const QString &what) {
        if (!m_intake.isRunning())
            m_strip->showBusy(what);
    });
    connect(m_bench, &Bench::problem, this, &MainWindow::showMessage);
    connect(m_bench, &Bench::rulerLengthAsked, this, &MainWindow::askRulerLength);
    adapt();
}

MainWindow::~MainWindow()
{
    m_bench->finishWork();
    m_demoStopped = true;
    m_demo.waitForFinished();
}

bool MainWindow::openJob(const QString &folder)
{
    m_bench->finishWork();
    const auto opened = m_job.open(folder);
    if (!opened) {
        showMessage(QString::fromStdString(opened.error().message));
        return false;
    }
    showDaySheet();
    if (m_job.isReadOnly())
        showMessage(QString::fromStdString(m_job.store()->readOnlyReason()));
    return true;
}

void MainWindow::bringIn(const QStringList &paths)
{
    if (!m_job.isOpen()) {
        showMessage(tr("Open a job first, or make a new one: frames belong to a job."));
        return;
    }
    if (m_job.isReadOnly()) {
        showMessage(QString::fromStdString(m_job.store()->readOnlyReason()));
        return;
    }
    if (!m_intake.isRunning())
        m_arrived.clear();
    m_intake.add(paths);
}

void MainWindow::arrived()
{
    m_strip->endProgress();
    adapt();
    if (m_arrived.empty())
        return;
    // One chart: its answer opens where attention is needed. Several: the day sheet shows them all.
    const auto frame = m_arrived.back();
    if (m_arrived.size() == 1) {
        showBench(frame);
        const bool trouble = answerOf(m_job.state(), frame).kind == AnswerKind::Spoilt;
        m_bench->openStop(trouble ? 1 : 4);
        showCallOut(frame);
    } else {
        showDaySheet();
        m_daySheet->canvas()->select(frame);
    }
    m_arrived.clear();
}

void MainWindow::showDaySheet()
{
    if (!m_job.isOpen())
        return;
    m_stack->setCurrentWidget(m_daySheet);
    m_daySheet->canvas()->setFocus();
    adapt();
}

void MainWindow::showBench(qint64 frame)
{
    if (!m_job.isOpen())
        return;
    m_job.setCurrentFrame(frame);
    m_stack->setCurrentWidget(m_bench);
    m_bench->openStop(m_bench->openedStop());
    adapt();
}

void MainWindow::showMessage(const QString &message)
{
    m_strip->showMessage(message);
}

void MainWindow::showCallOut(qint64 frame)
{
    const auto &state = m_job.state();
    const auto *reading = state.readingOf(frame);
    if (!reading)
        return;
    const auto chart = chartOf(reading->reading);
    m_callOut->show(callOutFor(state, frame), proofOf(state, frame, modelFor(state, frame)),
                    chart ? *chart : ChartDefinition());
}

RowId MainWindow::subject() const
{
    return m_stack->currentWidget() == m_bench ? m_job.currentFrame() : m_daySheet->canvas()->selected();
}

void MainWindow::adapt()
{
    const auto title = QString::fromStdString(m_job.state().title.text);
    m_bar->setTitle(m_job.isOpen() ? title : "Wavechroma");
    setWindowTitle(m_job.isOpen() ? title + " · Wavechroma" : "Wavechroma");
    const auto &frames = m_job.state().frames;
    QString status;
    if (m_job.isOpen())
        status =
            tr("%n frame(s)", nullptr, int(frames.size())).replace("(s)", frames.size() == 1 ? "" : "s") +
            (m_job.isReadOnly() ? tr(", to look at only") : QString());
    if (m_watch.isWatching())
        status = tr("watching %1 · ").arg(QFileInfo(m_watch.folder()).fileName()) + status;
    m_bar->setStatus(status);
    const bool writable = m_job.isOpen() && !m_job.isReadOnly();
    const auto incoming = [this] {
        return QString::fromStdString((m_job.store()->folder() / "incoming").string());
    };
    m_studio->setFolder(!writable ? QString() : m_watch.isWatching() ? m_watch.folder() : incoming());
    adaptActions();
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
    if (paths.size() == 1 && JobStore::holdsJob(paths.first().toStdString()))
        openJob(paths.first());
    else
        bringIn(paths);
}

void MainWindow::keyPressEvent(QKeyEvent *event)
{
    if (event->key() == Qt::Key_Escape) {
        if (!m_strip->message().isEmpty())
            m_strip->clearMessage();
        else if (m_stack->currentWidget() == m_bench)
            showDaySheet();
        return;
    }
    QMainWindow::keyPressEvent(event);
}

void MainWindow::closeEvent(QCloseEvent *event)
{
    m_intake.stop();
    m_demoStopped = true;
    event->accept();
}

} // namespace wavechroma::app
