#include "app/view/bench.h"

#include "app/view/balance_stop.h"
#include "app/view/fit_stop.h"
#include "app/view/look.h"
#include "app/view/proof_stop.h"
#include "app/view/read_stop.h"

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
            m_read->view()->setFrame(frame);
        emit busyChanged({});
    });
    connect(m_read->view(), &FrameView::placementMoved, this, &Bench::followPlacement);
    connect(m_fit, &FitStop::modelAsked, this, &Bench::chooseModel);
    connect(&m_again, &QFutureWatcherBase::finished, this, [this] {
        emit busyChanged({});
        if (m_again.result().reading.image.empty()) // only when something went wrong: even "no chart" names its frame
            emit problem(tr("The frame could not be read again. Its old reading stays."));
        else if (m_job->state().frame(m_againFrame))
            m_job->push(tr("Read Again"), changeFor(m_job->state(), m_againFrame, m_again.result()));
        m_pictures->forget(m_againFrame); // the flat may be another one now
        m_pictures->ask(m_job->currentFrame());
    });
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
        view->setFrame(nullptr);
        view->setMessage(tr("No frame is on the bench. Choose a chart frame on the day sheet and press Enter."));
    } else if (!shown) {
        view->setFrame(nullptr);
        view->setMessage(tr("Opening the frame."));
        emit busyChanged(tr("opening the frame"));
        m_pictures->ask(id);
    }
    showFacts();
}

void Bench::showFacts()
{
    for (auto *column : m_columns)
        column->show(m_facts);
}

FitRequest Bench::requestFor(const JobFrame &frame) const
{
    FitRequest request;
    request.sha256 = frame.sha256;
    request.model = m_job->state().title.chosenModel;
    for (const auto &setup : m_job->state().setups)
        if (setup.id == frame.setup)
            request.setup = setup.title;
    return request;
}

void Bench::followPlacement(const Corners &corners, double windowShare, bool finished)
{
    const auto frame = m_read->view()->frame();
    if (!frame || !frame->frame || !m_facts.reading || !m_facts.frame || frame->id != m_facts.frame->id)
        return;
    const auto moved = movedReading(*m_facts.reading, *frame->frame, corners, windowShare, sheetOf(m_job->state()), !finished);
    if (!moved) {
        if (finished) {
            emit problem(tr("The chart cannot lie there: its patches would leave the frame or cross. It went back."));
            refresh();
        }
        return;
    }
    auto reading = *moved;
    reading.image = m_facts.frame->path;
    auto request = requestFor(*m_facts.frame);
    request.preview = !finished; // a step of a drag has 16 ms; the whole answer comes when it is let go
    const auto pass = passFrom(reading, request);
    if (finished) {
        m_job->push(tr("Move Chart"), changeFor(m_job->state(), frame->id, pass));
    } else {
        m_facts = benchFacts(m_facts, pass);
        showFacts();
    }
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

void Bench::placeByHand()
{
    const auto frame = m_read->view()->frame();
    if (!frame || !frame->frame || !m_facts.frame || m_job->isReadOnly())
        return;
    // A chart half as wide as the frame, upright as the picture is seen, in its middle: near enough to drag from.
    const auto &raw = *frame->frame;
    const auto extent = chartExtent(m_facts.chart);
    const bool onSide = raw.orientation >= 5;
    const double across = (onSide ? raw.height : raw.width) * 0.25, down = across * extent.y / extent.x;
    const auto *view = m_read->view();
    Corners corners;
    const std::pair<double, double> signs[] = {{-1, -1}, {1, -1}, {1, 1}, {-1, 1}};
    const QPointF middle = view->viewFromFrame({raw.width / 2.0, raw.height / 2.0});
    for (size_t i = 0; i < 4; ++i)
        corners[i] = view->frameFromView(middle + QPointF(signs[i].first * across, signs[i].second * down) * view->zoom());
    ReadRequest request;
    request.corners = corners;
    request.sheet = sheetOf(m_job->state());
    auto reading = readFrame(raw, request);
    if (!reading) {
        emit problem(QString::fromStdString(reading.error().message));
        return;
    }
    reading->image = m_facts.frame->path;
    auto change = changeFor(m_job->state(), frame->id, passFrom(*reading, requestFor(*m_facts.frame)));
    if (m_facts.frame->part != FramePart::Chart) {
        auto row = *m_facts.frame;
        row.part = FramePart::Chart;
        change.frames.push_back({*m_facts.frame, row});
    }
    m_job->push(tr("Place Chart by Hand"), change);
}

bool Bench::isBusy() const
{
    return m_again.isRunning();
}

void Bench::readAgain()
{
    const auto frame = m_read->view()->frame();
    if (!frame || !frame->frame || !m_facts.frame || isBusy())
        return;
    m_againFrame = frame->id;
    emit busyChanged(tr("looking for the chart"));
    const auto flat = flatOf(m_job->state(), m_facts.frame->setup, m_facts.frame->camera);
    m_again.setFuture(QtConcurrent::run([raw = frame->frame, around = surroundingsOf(m_job->state(), m_job->store()->folder()), flat, path = m_facts.frame->path, request = requestFor(*m_facts.frame)] {
        RawFrame plain = *raw;
        plain.flat = nullptr;
        auto reading = readWithFlat(around, plain, flat);
        if (!reading)
            return StationPass{};
        reading->image = path;
        return passFrom(*reading, request);
    }));
}

} // namespace wavechroma::app
