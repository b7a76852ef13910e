#include "app/view/bench.h"

#include "app/view/balance_stop.h"
#include "app/view/fit_stop.h"
#include "app/view/look.h"
#include "app/view/proof_stop.h"
#include "app/view/read_stop.h"
#include "core/base/number_text.h"
#include "core/capture/scale.h"

#include <QHBoxLayout>
#include <QMouseEvent>
#include <QVBoxLayout>
#include <QtConcurrent>

namespace wavechroma::app {

static constexpr int kSlim = 152, kHeader = 62;

StopColumn::StopColumn(int number, Stop *stop, QWidget *parent) : QWidget(parent), m_number(number), m_stop(stop)
{
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(16, kHeader, 4, 8);
    layout->addWidget(stop);
    setOpen(false);
}

void StopColumn::setOpen(bool open)
{
    m_isOpen = open;
    m_stop->setVisible(open);
    setMinimumWidth(open ? 400 : kSlim);
    setMaximumWidth(open ? QWIDGETSIZE_MAX : kSlim);
    setCursor(open ? Qt::ArrowCursor : Qt::PointingHandCursor);
    setToolTip(open ? QString() : tr("Open this stop (%1)").arg(m_number));
    update();
}

void StopColumn::show(const BenchFacts &facts)
{
    m_facts = facts;
    m_stop->show(facts);
    setAccessibleName(QString("%1 %2").arg(m_number).arg(m_stop->title()));
    setAccessibleDescription(m_stop->figure(facts) + ". " + m_stop->sentence(facts));
    update();
}

void StopColumn::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    painter.setPen(palette().color(QPalette::WindowText));
    const QString head = QString("%1 %2").arg(m_number).arg(m_stop->title()), figure = m_stop->figure(m_facts);
    if (m_isOpen) {
        const int end = drawLine(painter, {16, 14, 160, 26}, head, face(18, 700));
        const int after = drawLine(painter, {end + 14, 14, 320, 26}, figure, face(kAnswer));
        drawLine(painter, {after + 18, 15, width() - after - 34, 26}, m_stop->sentence(m_facts), face(kBody));
    } else {
        const QRect area(14, 14, kSlim - 28, height() - 20);
        drawLine(painter, {area.left(), area.top(), area.width(), 24}, head, face(kHead, 600));
        drawLine(painter, {area.left(), area.top() + 24, area.width(), 24}, figure, face(kBody));
        const int used = m_stop->paintMiniature(painter, area.adjusted(0, 60, 0, 0), m_facts);
        painter.setPen(palette().color(QPalette::WindowText));
        drawWords(painter, area.adjusted(0, 60 + used + (used ? 12 : 0), 0, 0), m_stop->sentence(m_facts), face(kBody));
    }
    if (m_number > 1) {
        painter.setPen(QPen(palette().color(QPalette::WindowText), 2));
        painter.drawLine(0, 0, 0, height());
    }
}

void StopColumn::mousePressEvent(QMouseEvent *)
{
    if (!m_isOpen)
        emit openAsked();
}

Bench::Bench(JobDocument *job, QWidget *parent)
    : QWidget(parent), m_job(job), m_pictures(new FramePictures(job, this)), m_read(new ReadStop), m_balance(new BalanceStop), m_fit(new FitStop),
      m_proof(new ProofStop), m_line(new QHBoxLayout(this))
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
        view->setMessage(tr("No frame is on the bench. Choose a chart frame on the day sheet and press Enter."));
    } else if (!shown) {
        m_read->setFrame(nullptr);
        view->setMessage(tr("Opening the frame."));
        emit busyChanged(tr("opening the frame"));
        m_pictures->ask(id);
    } else if (const auto &by = view->frame()->calibration; by && m_facts.chosen() && (by->model != m_facts.chosenModel || by->character != m_facts.chosen()->character)) {
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

FitRequest Bench::requestFor(const JobFrame &frame) const
{
    FitRequest request;
    request.sha256 = frame.sha256;
    request.model = m_job->state().title.chosenModel;
    if (const auto *made = m_job->state().calibrationOf(frame.id, request.model)) {
        request.character = made->calibration.character; // what is read anew keeps these
        request.weights = weightsTextOf(made->calibration);
        const auto &light = made->calibration.light;
        if (!light.estimated && light.spectrum) {
            request.told = NamedLight{light.name, *light.spectrum, light.xy, light.exifCode};
            request.appearance = made->calibration.appearance == Appearance::UnderD50 ? std::optional(Appearance::UnderD50) : std::nullopt;
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

/// A placement that the hand has finished: all stops follow, in one step.
void Bench::finishPlacement(const Result<Reading> &moved, const QString &undoText)
{
    if (!moved) {
        emit problem(tr("The chart cannot lie there: its patches would leave the frame or cross. It went back."));
        finishWork(); // back to where it was let go last
        refresh();
        return;
    }
    auto reading = *moved;
    reading.image = m_facts.frame->path;
    fitAnew(reading, undoText);
}

/// At once what one model says; a quarter of a second later the step itself, with all models and what they do on unseen patches.
/// Without a word in the strip: its coming and going would shift the picture under the hand.
void Bench::fitAnew(const Reading &reading, const QString &undoText)
{
    auto request = requestFor(*m_facts.frame);
    request.preview = true;
    m_facts = benchFacts(m_facts, passFrom(reading, request));
    showFacts();
    request.preview = false;
    redo(undoText, {}, [reading, id = m_facts.frame->id, request]() -> Redoing { return std::vector{Redone{id, passFrom(reading, request)}}; });
}

void Bench::followPlacement(const Corners &corners, double windowShare, bool finished)
{
    const auto frame = m_read->view()->frame();
    if (!frame || !frame->frame || !m_facts.reading || !m_facts.frame || frame->id != m_facts.frame->id)
        return;
    const auto moved = movedReading(*m_facts.reading, *frame->frame, corners, windowShare, sheetOf(m_job->state()), !finished);
    if (finished)
        return finishPlacement(moved, tr("Move Chart"));
    if (!moved)
        return;
    auto request = requestFor(*m_facts.frame);
    request.preview = true; // a step of a drag has 16 ms; the whole answer comes when it is let go
    m_facts = benchFacts(m_facts, passFrom(*moved, request));
    showFacts();
}

void Bench::dropCorner(const Corners &corners, double windowShare)
{
    const auto frame = m_read->view()->frame();
    if (!m_snaps || !frame || !frame->frame || !m_facts.reading || !m_facts.frame || frame->id != m_facts.frame->id)
        return followPlacement(corners, windowShare, true);
    finishPlacement(snappedReading(*m_facts.reading, *frame->frame, corners, windowShare, sheetOf(m_job->state())), tr("Move Chart"));
}

void Bench::clickPatch(const QString &id)
{
    if (!m_facts.reading || m_job->isReadOnly())
        return;
    auto off = m_facts.reading->leftOut;
    const auto name = id.toStdString();
    if (std::erase(off, name) == 0)
        off.push_back(name);
    switchOff(off);
}

void Bench::switchOff(const std::vector<std::string> &patches)
{
    const auto frame = m_read->view()->frame();
    if (!frame || !frame->frame || !m_facts.reading || m_job->isReadOnly())
        return;
    const auto reading = readingWithout(*m_facts.reading, *frame->frame, patches, sheetOf(m_job->state()));
    if (!reading) {
        emit problem(QString::fromStdString(reading.error().message));
        return;
    }
    fitAnew(*reading, tr("Switch Patches Off or On"));
}

void Bench::measureRuler(double millimetres)
{
    const auto scale = pixelsPerMmBetween(m_ruler[0], m_ruler[1], millimetres);
    if (!scale) {
        emit problem(tr("A ruler needs two different points and a length above zero."));
        return;
    }
    const auto sheet = sheetOf(m_job->state());
    m_read->view()->showRuler(QString::fromStdString(verdictOn(Scale{*scale, 0, 0}, m_job->state().title.intendedPpi, sheet.scaleError, sheet.distortion).words));
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
        m_waiting = [this, undoText, busy, work = std::move(work)]() mutable { redo(undoText, busy, std::move(work)); };
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

void Bench::placeByThree(const std::vector<PixelPoint> &three)
{
    const auto frame = m_read->view()->frame();
    if (!frame || !frame->frame || !m_facts.frame || three.size() != 3)
        return;
    redo(tr("Place Chart by Three Corners"), tr("placing the chart"),
         [raw = frame->frame, chart = m_facts.chart, at = std::array{three[0], three[1], three[2]}, sheet = sheetOf(m_job->state()), row = *m_facts.frame, request = requestFor(*m_facts.frame), flats = keptFlats()]() -> Redoing {
             auto reading = readingByThree(*raw, chart, at, sheet);
             if (!reading)
                 return reading.error();
             reading->image = row.path;
             reading->flats = raw->flat ? flats : std::vector<std::string>();
             return std::vector{Redone{row.id, passFrom(*reading, request)}};
         });
}

/// The flats that the open frame was evened by.
std::vector<std::string> Bench::keptFlats() const
{
    return m_facts.reading ? m_facts.reading->flats : std::vector<std::string>();
}

/// Corners of a chart half as wide as the frame, upright as the picture is seen, in its middle: near enough to drag from.
static Corners middleCorners(const FrameView &view, const RawFrame &raw, const ChartDefinition &chart)
{
    const auto extent = chartExtent(chart);
    const bool onSide = raw.orientation >= 5;
    const double wide = onSide ? raw.height : raw.width, high = onSide ? raw.width : raw.height;
    const double across = std::min(wide * 0.25, high * 0.4 * extent.x / extent.y), down = across * extent.y / extent.x;
    const std::pair<double, double> signs[] = {{-1, -1}, {1, -1}, {1, 1}, {-1, 1}};
    const QPointF middle = view.viewFromFrame({raw.width / 2.0, raw.height / 2.0});
    Corners corners;
    for (size_t i = 0; i < 4; ++i)
        corners[i] = view.frameFromView(middle + QPointF(signs[i].first * across, signs[i].second * down) * view.zoom());
    return corners;
}

void Bench::placeByHand()
{
    useChart(m_facts.chart, true);
}

void Bench::useChart(const ChartDefinition &chart, bool byHand)
{
    const auto frame = m_read->view()->frame();
    if (!frame || !frame->frame || !m_facts.frame)
        return;
    ReadRequest request;
    request.definition = chart;
    if (byHand)
        request.corners = middleCorners(*m_read->view(), *frame->frame, chart);
    request.sheet = sheetOf(m_job->state());
    auto fit = requestFor(*m_facts.frame);
    if (chart.id != m_facts.chart.id)
        fit.weights.clear(); // they named patches of another chart
    redo(byHand ? tr("Place Chart by Hand") : tr("Read as %1").arg(QString::fromStdString(chart.name)), tr("reading the chart"),
         [raw = frame->frame, request, row = *m_facts.frame, fit, flats = keptFlats()]() -> Redoing {
             auto reading = readFrame(*raw, request);
             if (!reading)
                 return reading.error();
             reading->image = row.path;
             reading->flats = raw->flat ? flats : std::vector<std::string>();
             return std::vector{Redone{row.id, passFrom(*reading, fit)}};
         });
}

bool Bench::isBusy() const
{
    return m_owed;
}

void Bench::readAgain()
{
    const auto frame = m_read->view()->frame();
    if (!frame || !frame->frame || !m_facts.frame)
        return;
    const auto flats = flatsOf(m_job->state(), m_facts.frame->setup, m_facts.frame->camera);
    redo(tr("Read Again"), tr("looking for the chart"),
         [raw = frame->frame, around = surroundingsOf(m_job->state(), m_job->store()->folder()), flats, row = *m_facts.frame, request = requestFor(*m_facts.frame), chart = m_facts.chart.id]() mutable -> Redoing {
             RawFrame plain = *raw;
             plain.flat = nullptr;
             auto reading = readWithFlats(around, plain, flats);
             if (!reading)
                 return unusable("The frame could not be read again, and its old reading stays. " + reading.error().message);
             reading->image = row.path;
             if (reading->chart != chart)
                 request.weights.clear();
             return std::vector{Redone{row.id, passFrom(*reading, request)}};
         });
}

std::vector<RowId> Bench::framesToCarryTo() const
{
    std::vector<RowId> out;
    if (!m_facts.frame || !m_facts.reading || !m_facts.reading->found)
        return out;
    for (const auto &lane : lanesOf(m_job->state())) {
        const auto at = std::find_if(lane.frames.begin(), lane.frames.end(), [&](const auto *f) { return f->id == m_facts.frame->id; });
        for (auto next = at; next != lane.frames.end() && (next == at || (*next)->part == FramePart::Chart); ++next)
            if (next != at && (*next)->width == m_facts.reading->width && (*next)->height == m_facts.reading->height)
                out.push_back((*next)->id);
    }
    return out;
}

void Bench::carryPlacement()
{
    const auto targets = framesToCarryTo();
    if (targets.empty()) {
        emit problem(tr("No chart frame of the same size follows this one directly."));
        return;
    }
    struct Target {
        JobFrame row;
        std::filesystem::path file;
        FitRequest request;
    };
    std::vector<Target> all;
    for (const auto id : targets) {
        const auto &row = *m_job->state().frame(id);
        all.push_back({row, m_job->store()->fullPath(row), requestFor(row)});
    }
    redo(tr("Carry Placement"), tr("placing the chart in %1 frames").arg(all.size()),
         [all, from = *m_facts.reading, folder = m_job->store()->folder(), sheet = sheetOf(m_job->state())]() -> Redoing {
             std::vector<Redone> out;
             for (const auto &target : all) {
                 auto frame = openFrame(target.file);
                 std::vector<std::filesystem::path> flats;
                 for (const auto &flat : from.flats)
                     flats.push_back(folder / flat);
                 if (frame && !flats.empty())
                     frame = withFlats(*frame, flats);
                 auto reading = frame ? carriedReading(from, *frame, sheet) : Result<Reading>(frame.error());
                 if (!reading)
                     return reading.error();
                 reading->image = target.row.path;
                 out.push_back({target.row.id, passFrom(*reading, target.request)});
             }
             return out;
         });
}

} // namespace wavechroma::app
