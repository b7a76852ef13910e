#include "app/view/window/desk.h"

#include "app/model/spoken.h"
#include "app/model/thumbnails.h"
#include "app/view/agreement/agreement_place.h"
#include "app/view/bench/bench.h"
#include "app/view/bench/product/product_bench.h"
#include "app/view/bench/product/product_view.h"
#include "app/view/day/call_out.h"
#include "app/view/day/day_sheet.h"
#include "app/view/day/strike_view.h"
#include "app/view/handover/handover.h"
#include "app/view/studio/studio_panel.h"
#include "app/view/widgets/task_strip.h"
#include "app/view/widgets/top_bar.h"
#include "core/facts/strike.h"
#include "core/tasks/job_task.h"
#include "core/tasks/prove_task.h"
#include "core/tasks/reference_task.h"

#include <QApplication>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QMessageBox>
#include <QPushButton>
#include <QStackedWidget>
#include <QVBoxLayout>
#include <algorithm>
#include <utility>

namespace wavechroma::app {

Desk::Desk()
    : m_intake(&m_job, &m_tasks), m_watch(&m_job, &m_tasks),
      m_thumbnails(new Thumbnails(&m_job, &m_tasks, this)), m_bar(new TopBar), m_stack(new QStackedWidget),
      m_daySheet(new DaySheet(&m_job, m_thumbnails)), m_bench(new Bench(&m_job, &m_tasks)),
      m_agreement(new AgreementPlace(&m_job, &m_tasks)), m_handover(new Handover(&m_job, &m_tasks)),
      m_strip(new TaskStrip), m_studio(new StudioPanel(&m_tasks)), m_callOut(new CallOut(this)),
      m_strike(new StrikeView(this))
{
    layOut();
    connectJob();
    connectWork();
    connectPlaces();
}

Desk::~Desk()
{
    editor()->finishWork();
    m_tasks.stopAll();
    m_job.undoStack()->disconnect(); // which goes before the actions that follow it
}

void Desk::layOut()
{
    auto *layout = new QVBoxLayout(this);
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
    m_stack->addWidget(m_daySheet);
    m_stack->addWidget(m_bench);
    m_stack->addWidget(m_agreement);
    m_stack->addWidget(m_handover);
}

void Desk::showStart(QWidget *page)
{
    m_stack->insertWidget(0, page);
    m_stack->setCurrentWidget(page);
}

void Desk::connectJob()
{
    connect(&m_job, &JobDocument::opened, this, [this] {
        m_tasks.jobChanged();
        m_arrived.clear();
        m_cameIn = false;
        m_strike->hide();
        if (!m_job.isOpen())
            m_stack->setCurrentIndex(0); // the start page
        adapt();
    });
    connect(&m_job, &JobDocument::changed, this, &Desk::offerStrike);
    connect(&m_job, &JobDocument::changed, this, &Desk::adapt);
    connect(&m_job, &JobDocument::currentFrameChanged, this, &Desk::adapt);
    connect(&m_job, &JobDocument::failed, this, &Desk::showMessage);
}

void Desk::connectWork()
{
    connect(&m_intake, &Intake::progress, m_strip,
            [this](double f, const QString &step) { m_strip->showProgress(f, step, true); });
    connect(&m_intake, &Intake::problem, this, &Desk::showMessage);
    connect(&m_intake, &Intake::chartArrived, this, [this](qint64 frame) { m_arrived.push_back(frame); });
    connect(&m_intake, &Intake::finished, this, &Desk::arrived);
    connect(&m_intake, &Intake::waitingChanged, this, &Desk::changed);
    connect(&m_watch, &FolderWatch::arrived, this, &Desk::bringIn);
    connect(&m_watch, &FolderWatch::problem, this, &Desk::showMessage);
    // The strip tells of the intake as a whole, and of other work where nothing comes in.
    connect(&m_tasks, &TaskRunner::progressed, this,
            [this](const QString &queue, double fraction, const QString &step) {
                if (m_intake.isRunning() || queue == "intake")
                    return;
                m_shownQueue = queue;
                if (fraction < 0)
                    m_strip->showBusy(step);
                else
                    m_strip->showProgress(fraction, step, true);
            });
    connect(&m_tasks, &TaskRunner::ended, this, [this](const QString &queue) {
        if (!m_intake.isRunning() && queue == m_shownQueue)
            m_strip->endProgress();
    });
    connect(m_strip, &TaskStrip::stopAsked, this, [this] {
        stop();
        m_strip->endProgress();
        adapt();
    });
}

void Desk::connectPlaces()
{
    connect(m_callOut, &CallOut::dismissed, this, &Desk::showDaySheet);
    connect(m_strike, &StrikeView::stepAsked, this, &Desk::stepStrike);
    connect(m_strike, &StrikeView::dismissed, this, &Desk::adapt);
    connect(m_agreement, &AgreementPlace::problem, this, &Desk::showMessage);
    connect(m_agreement, &AgreementPlace::answered, this, &Desk::adapt);
    connect(m_studio, &StudioPanel::problem, this, &Desk::showMessage);
    connect(m_daySheet->canvas(), &DayCanvas::openAsked, this, &Desk::showBench);
    connect(m_daySheet->canvas(), &DayCanvas::selectionChanged, this, &Desk::adapt);
    connect(editor(), &FrameEditor::problem, this, &Desk::showMessage);
    connect(editor(), &FrameEditor::doubted, this, &Desk::askAllTheSame);
    connect(editor(), &FrameEditor::factsChanged, this, &Desk::factsChanged);
    auto *product = m_bench->product();
    connect(product, &ProductBench::frameAsked, this, &Desk::showBench);
    connect(product->editor(), &ProductEditor::problem, this, &Desk::showMessage);
    connect(product->editor(), &ProductEditor::factsChanged, this, &Desk::factsChanged);
    connect(product->view(), &ProductView::probePicked, this, &Desk::changed);
    connect(m_handover, &Handover::problem, this, &Desk::showMessage);
}

FrameEditor *Desk::editor() const
{
    return m_bench->editor();
}

void Desk::stop()
{
    m_intake.stop();
    m_tasks.stopAll();
}

void Desk::clearMessage()
{
    if (!m_strip->message().isEmpty())
        m_strip->clearMessage();
    else if (isOnBench() || isAtHandover() || isAtAgreement())
        showDaySheet();
}

bool Desk::openJob(const QString &folder)
{
    editor()->finishWork();
    const auto opened = m_job.open(folder);
    if (!opened) {
        showMessage(text(opened.error()));
        return false;
    }
    showDaySheet();
    if (m_job.isReadOnly())
        showMessage(text(m_job.store()->readOnlyReason()));
    else
        emit writableOpened();
    return true;
}

void Desk::bringIn(const QStringList &paths)
{
    if (!m_job.isOpen()) {
        showMessage(tr("Open a job or make a new one first."));
        return;
    }
    if (m_job.isReadOnly()) {
        showMessage(text(m_job.store()->readOnlyReason()));
        return;
    }
    if (!m_intake.isRunning())
        m_arrived.clear();
    m_intake.add(paths);
}

void Desk::arrived()
{
    m_strip->endProgress();
    adapt();
    m_cameIn = true;
    emit settled();
    if (m_arrived.empty())
        return;
    // A question that is open is about the frame on the bench: what arrived waits for its answer.
    if (auto *open = qobject_cast<QDialog *>(QApplication::activeModalWidget())) {
        connect(open, &QDialog::finished, this, &Desk::arrived,
                Qt::ConnectionType(Qt::QueuedConnection | Qt::UniqueConnection));
        return;
    }
    // One chart: its answer opens where attention is needed. Several: the day sheet shows them all.
    const auto frame = m_arrived.back();
    if (m_arrived.size() == 1) {
        showBench(frame);
        const bool trouble =
            m_job.stations().answerOf(m_job.state(), frame).state == Answer::State::ShootAgain;
        m_bench->openStop(trouble ? 1 : 4);
        showCallOut(frame);
    } else {
        showDaySheet();
        m_daySheet->canvas()->select(frame);
    }
    m_arrived.clear();
}

void Desk::showDaySheet()
{
    if (!m_job.isOpen())
        return;
    m_stack->setCurrentWidget(m_daySheet);
    m_daySheet->canvas()->setFocus();
    adapt();
}

void Desk::showBench(qint64 frame)
{
    if (!m_job.isOpen())
        return;
    m_job.setCurrentFrame(frame);
    m_stack->setCurrentWidget(m_bench);
    m_bench->openStop(m_bench->openedStop());
    adapt();
}

void Desk::showHandover()
{
    if (!m_job.isOpen())
        return;
    m_stack->setCurrentWidget(m_handover);
    m_handover->setFocus();
    adapt();
}

void Desk::showAgreement()
{
    if (!m_job.isOpen())
        return;
    m_stack->setCurrentWidget(m_agreement);
    m_agreement->setFocus();
    adapt();
}

void Desk::showStrike(qint64 setup)
{
    if (!m_job.isOpen() || setup == 0)
        return;
    const auto card = strikeCard(m_job.job(), setup);
    m_strike->show(card);
    m_tasks.stop("strike");
    if (!card.isAwaited())
        return;
    m_tasks.run<StrikeCard>(
        {"strike", tr("looking at the files"), true},
        [card, job = m_job.job()](const Progress &progress) -> Result<StrikeCard> {
            return withFiles(card, job, progress);
        },
        m_strike,
        [this](const Result<StrikeCard> &looked) {
            if (looked && m_strike->isVisible() && m_strike->card().setup == looked->setup)
                m_strike->show(*looked);
        });
}

bool Desk::holdsBack()
{
    if (!m_job.isOpen() || m_job.isReadOnly() || !std::exchange(m_cameIn, false))
        return false;
    const auto setup = newestSetup(m_job.job());
    if (setup == 0 || strikeCard(m_job.job(), setup).missing() == 0)
        return false;
    showStrike(setup);
    return true;
}

/// A new setup begins: the lights of the one before are still as they were.
void Desk::offerStrike(const JobChange &change)
{
    const bool isNew = std::any_of(change.setups.begin(), change.setups.end(),
                                   [](const auto &row) { return !row.before && row.after; });
    const auto setup = isNew && m_cameIn ? newestSetup(m_job.job()) : 0;
    if (setup != 0 && strikeCard(m_job.job(), setup).missing() > 0)
        showStrike(setup);
}

void Desk::stepStrike(int by)
{
    const auto &setups = m_job.state().setups;
    for (int i = 0; i < int(setups.size()); ++i)
        if (setups[size_t(i)].id == m_strike->card().setup && i + by >= 0 && i + by < int(setups.size())) {
            showStrike(setups[size_t(i + by)].id);
            return;
        }
}

void Desk::showMessage(const QString &message)
{
    m_strip->showMessage(message);
}

/// "09:22:41, 1/100 s, f/8", then setup, camera and lens.
static QString factsOf(const JobState &state, const JobFrame &frame)
{
    const auto &c = frame.camera;
    QStringList where;
    for (const auto &setup : state.setups)
        if (setup.id == frame.setup)
            where << text(setup.title);
    where << text(c.model) << text(c.lens);
    return Desk::tr("%1, %2, f/%3\n%4")
        .arg(text(c.capturedAt).mid(11, 8), exposure(c.exposureSeconds), QLocale().toString(c.fNumber),
             where.join(", "));
}

void Desk::showCallOut(qint64 id)
{
    const auto &state = m_job.state();
    const auto *frame = state.frame(id);
    const auto *reading = m_job.stations().readingToShow(state, id);
    if (!frame || !reading || reading->reading.fault())
        return;
    const auto chart = chartOf(*reading->reading);
    const auto *row = state.calibrationOf(id, partsFor(state, id));
    if (row && row->calibration.fault())
        row = nullptr;
    const auto proof = row ? proveReading(*row->calibration, *reading->reading) : Result<Proof>(unusable(""));
    m_callOut->show(words::callOut(m_job.stations().answerOf(state, id), reading->reading->checks, spoken()),
                    factsOf(state, *frame), proof ? std::optional(*proof) : std::nullopt,
                    chart ? *chart : ChartDefinition());
}

bool Desk::isOnBench() const
{
    return m_stack->currentWidget() == m_bench;
}

bool Desk::isAtHandover() const
{
    return m_stack->currentWidget() == m_handover;
}

bool Desk::isAtAgreement() const
{
    return m_stack->currentWidget() == m_agreement;
}

RowId Desk::subject() const
{
    return isOnBench() ? m_job.currentFrame() : m_daySheet->canvas()->selected();
}

/// What cannot be right is done only by whoever says so.
void Desk::askAllTheSame(const QString &message, const std::function<void()> &allTheSame)
{
    auto *box =
        new QMessageBox(QMessageBox::NoIcon, window()->windowTitle(), message, QMessageBox::NoButton, this);
    box->setObjectName("allTheSame");
    box->setAttribute(Qt::WA_DeleteOnClose);
    auto *leave = box->addButton(tr("Keep as It Is"), QMessageBox::RejectRole);
    auto *go = box->addButton(tr("Do It Anyway"), QMessageBox::AcceptRole);
    box->setDefaultButton(leave);
    box->setEscapeButton(leave);
    connect(go, &QPushButton::clicked, this, allTheSame);
    box->open();
}

void Desk::adapt()
{
    const auto title = text(m_job.state().title.text);
    m_bar->setTitle(m_job.isOpen() ? title : "Wavechroma");
    window()->setWindowTitle(m_job.isOpen() ? title + " · Wavechroma" : "Wavechroma");
    QString status;
    if (m_job.isOpen())
        status = text(words::filled("{n} {n|frame|frames}", {{"n", double(m_job.state().frames.size())}},
                                    spoken())) +
                 (m_job.isReadOnly() ? tr(", read-only") : QString());
    if (m_watch.isWatching())
        status = tr("watching %1 · ").arg(QFileInfo(m_watch.folder()).fileName()) + status;
    m_bar->setStatus(status);
    const bool writable = m_job.isOpen() && !m_job.isReadOnly();
    const auto incoming = [this] { return text((m_job.store()->folder() / "incoming").string()); };
    m_studio->setFolder(!writable ? QString() : m_watch.isWatching() ? m_watch.folder() : incoming());
    emit changed();
}

} // namespace wavechroma::app
