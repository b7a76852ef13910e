#include "app/view/bench.h"

#include "app/view/balance_stop.h"
#include "app/view/fit_stop.h"
#include "app/view/proof_stop.h"
#include "app/view/read_stop.h"
#include "app/view/stop_column.h"
#include "core/base/number_text.h"
#include "core/capture/scale.h"

#include <QHBoxLayout>
#include <QtConcurrent>

namespace wavechroma::app {

Bench::Bench(JobDocument *job, QWidget *parent)
    : QWidget(parent), m_job(job), m_pictures(new FramePictures(job, this)), m_read(new ReadStop),
      m_balance(new BalanceStop), m_fit(new FitStop), m_proof(new ProofStop), m_line(new QHBoxLayout(this))
{
    m_line->setContentsMargins(0, 0, 0, 0);
    m_line->setSpacing(0);
    Stop *const stops[] = {m_read, m_balance, m_fit, m_proof};
    for (int i = 0; i < 4; ++i) {
        auto *column = new StopColumn(i + 1, stops[i]);
        m_columns[size_t(i)] = column;
        m_line->addWidget(column);
        connect(column, &StopColumn::openAsked, this, [this, i] { openStop(i + 1); });
    }
    connect(job, &JobDocument::changed, this, &Bench::refresh);
    connect(job, &JobDocument::currentFrameChanged, this, &Bench::refresh);
    connect(m_pictures, &FramePictures::ready, this, [this](const std::shared_ptr<const OpenFrame> &frame) {
        if (frame->id == m_job->currentFrame())
            m_read->setFrame(frame);
        emit busyChanged({});
    });
    connectView();
    connect(m_balance, &BalanceStop::greysAsked, this, &Bench::balanceFromGreys);
    connect(m_balance, &BalanceStop::lightAsked, this, &Bench::balanceFromLight);
    connect(m_balance, &BalanceStop::leanAsked, this, &Bench::leanTo);
    connect(m_fit, &FitStop::modelAsked, this, &Bench::chooseModel);
    connect(m_fit, &FitStop::characterAsked, this, &Bench::useCharacter);
    connect(&m_again, &QFutureWatcherBase::finished, this, &Bench::redone);
    openStop(4);
    refresh();
}

void Bench::openStop(int number)
{
    if (number < 1 || number > 4)
        return;
    m_open = number;
    Stop *const stops[] = {m_read, m_balance, m_fit, m_proof};
    for (int i = 0; i < 4; ++i) {
        m_columns[size_t(i)]->setOpen(i + 1 == number);
        m_line->setStretch(i, i + 1 == number ? 1 : 0);
    }
    if (isVisible())
        stops[number - 1]->setFocus(Qt::ShortcutFocusReason);
}

void Bench::refresh()
{
    const RowId id = m_job->currentFrame();
    m_facts = benchFacts(m_job->state(), id);
    auto *view = m_read->view();
    view->setEditable(!m_job->isReadOnly());
    const bool shown = view->frame() && view->frame()->id == id;
    if (!id) {
        m_read->setFrame(nullptr);
        view->setMessage(
            tr("No frame is on the bench. Choose a chart frame on the day sheet and press Enter."));
    } else if (!shown) {
        m_read->setFrame(nullptr);
        view->setMessage(tr("Opening the frame."));
        emit busyChanged(tr("opening the frame"));
        m_pictures->ask(id);
    } else if (const auto &by = view->frame()->calibration;
               by && m_facts.chosen() &&
               (by->model != m_facts.chosenModel || by->character != m_facts.chosen()->character)) {
        m_pictures->forget(id); // the picture follows the model, also through undo
        m_pictures->ask(id);
    }
    showFacts();
}

void Bench::showFacts()
{
    for (auto *column : m_columns)
        column->show(m_facts);
}

/// "D1=4,D2=4" of the patches that do not count once; empty when all do.
static std::string weightsTextOf(const Calibration &calibration)
{
    std::string text;
    for (const auto &patch : calibration.patches)
        if (patch.weight != 1)
            text += (text.empty() ? "" : ",") + patch.id + "=" + fixedText(patch.weight, 3);
    return text;
}

QString Bench::weights() const
{
    const auto *chosen = m_facts.chosen();
    const auto text = chosen ? weightsTextOf(*chosen) : std::string();
    return text.empty() ? QString("even") : QString::fromStdString(text);
}

/// Those of a merged calibration beside its own frame's, as they are now: one that was read as another chart
/// since is left out.
static std::vector<FitRequest::Other> readingsIn(const JobState &state, const std::string &chart,
                                                 const std::vector<SourceFrame> &sources)
{
    std::vector<FitRequest::Other> out;
    for (size_t i = 1; i < sources.size(); ++i)
        for (const auto &row : state.readings)
            if (row.reading.image == sources[i].image && row.reading.found && row.reading.chart == chart)
                out.push_back({row.reading, sources[i].sha256});
    return out;
}

FitRequest Bench::requestFor(const JobFrame &frame) const
{
    FitRequest request;
    request.sha256 = frame.sha256;
    request.model = modelFor(m_job->state(), frame.id);
    if (const auto *made = m_job->state().calibrationOf(frame.id, request.model)) {
        request.character = made->calibration.character; // what is read anew keeps these
        request.weights = weightsTextOf(made->calibration);
        request.with = readingsIn(m_job->state(), made->calibration.chart, made->calibration.madeFrom);
        const auto &light = made->calibration.light;
        if (!light.estimated && light.spectrum) {
            request.told = NamedLight{light.name, *light.spectrum, light.xy, light.exifCode};
            request.appearance = made->calibration.appearance == Appearance::UnderD50
                                     ? std::optional(Appearance::UnderD50)
                                     : std::nullopt;
        }
    }
    for (const auto &setup : m_job->state().setups)
        if (setup.id == frame.setup)
            request.setup = setup.title;
    return request;
}

void Bench::connectView()
{
    auto *view = m_read->view();
    connect(view, &FrameView::placementMoved, this, &Bench::followPlacement);
    connect(view, &FrameView::cornerDropped, this, &Bench::dropCorner);
    connect(view, &FrameView::patchClicked, this, &Bench::clickPatch);
    connect(view, &FrameView::cornersClicked, this, &Bench::placeByThree);
    connect(view, &FrameView::areaDrawn, this, &Bench::balanceFromArea);
    connect(view, &FrameView::rulerDrawn, this, [this](const PixelPoint &from, const PixelPoint &to) {
        m_ruler = {from, to};
        emit rulerLengthAsked();
    });
}

/// At once what one model says; a quarter of a second later the step itself, with all models and what they do
/// on unseen patches. Without a word in the strip: its coming and going would shift the picture under the
/// hand.
void Bench::fitAnew(const Reading &reading, const QString &undoText)
{
    auto request = requestFor(*m_facts.frame);
    request.preview = true;
    m_facts = benchFacts(m_facts, passFrom(reading, request));
    showFacts();
    request.preview = false;
    redo(undoText, {}, [reading, id = m_facts.frame->id, request]() -> Redoing {
        return std::vector{Redone{id, passFrom(reading, request)}};
    });
}

void Bench::measureRuler(double millimetres)
{
    const auto scale = pixelsPerMmBetween(m_ruler[0], m_ruler[1], millimetres);
    if (!scale) {
        emit problem(tr("A ruler needs two different points and a length above zero."));
        return;
    }
    const auto sheet = sheetOf(m_job->state());
    m_read->view()->showRuler(QString::fromStdString(
        verdictOn(Scale{*scale, 0, 0}, m_job->state().title.intendedPpi, sheet.scaleError, sheet.distortion)
            .words));
}

void Bench::chooseModel(const QString &model)
{
    auto title = m_job->state().title;
    if (title.chosenModel == model.toStdString() || m_job->isReadOnly())
        return;
    const auto before = title;
    title.chosenModel = model.toStdString();
    JobChange change;
    change.titles.push_back({before, title});
    m_job->push(tr("Choose Model %1").arg(model), change);
}

void Bench::redo(const QString &undoText, const QString &busy, std::function<Redoing()> work)
{
    if (m_job->isReadOnly())
        return;
    if (isBusy()) { // the newest wish waits; one before it is overtaken
        m_waiting = [this, undoText, busy, work = std::move(work)]() mutable {
            redo(undoText, busy, std::move(work));
        };
        return;
    }
    m_againText = undoText;
    m_owed = true;
    emit busyChanged(busy);
    m_again.setFuture(QtConcurrent::run(std::move(work)));
}

void Bench::finishWork()
{
    while (m_owed) {
        m_again.waitForFinished();
        redone();
    }
}

void Bench::redone()
{
    if (!std::exchange(m_owed, false))
        return; // finishWork() was here before the event loop
    emit busyChanged({});
    const auto result = m_again.result();
    const auto next = std::exchange(m_waiting, nullptr);
    if (!result)
        emit problem(QString::fromStdString(result.error().message));
    else
        takeRedone(*result);
    if (next)
        next();
}

void Bench::takeRedone(const std::vector<Redone> &all)
{
    JobChange whole;
    JobState state = m_job->state(); // rows get their numbers one frame after the other
    bool otherPicture = false;
    for (const auto &one : all) {
        const auto *row = state.frame(one.frame);
        if (!row)
            continue;
        auto change = changeFor(state, one.frame, one.pass);
        if (row->part != FramePart::Chart && one.pass.reading.found) {
            auto chart = *row;
            chart.part = FramePart::Chart;
            change.frames.push_back({*row, chart});
        }
        apply(state, change);
        whole = merged(std::move(whole), change);
        const auto *before = m_job->state().readingOf(one.frame);
        if (!before || before->reading.flats != one.pass.reading.flats) { // the flat is another one now
            m_pictures->forget(one.frame);
            otherPicture = true;
        }
    }
    m_job->push(m_againText, whole);
    if (otherPicture)
        m_pictures->ask(m_job->currentFrame());
}

bool Bench::isBusy() const
{
    return m_owed;
}

} // namespace wavechroma::app
