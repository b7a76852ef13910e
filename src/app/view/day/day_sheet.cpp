#include "app/view/day/day_sheet.h"

#include "app/model/spoken.h"
#include "app/view/day/day_sheet_aloud.h"
#include "app/view/widgets/look.h"
#include "app/view/widgets/patch_colors.h"
#include "core/tasks/drift_task.h"
#include "core/tasks/prove_task.h"
#include "core/tasks/reference_task.h"
#include "core/words/answer_words.h"
#include "core/words/drift_words.h"
#include "core/words/frame_words.h"

#include <QAccessible>
#include <QLocale>
#include <QPaintEvent>
#include <algorithm>
#include <set>

namespace wavechroma::app {

namespace {

constexpr int kMargin = 20, kSetupWidth = 216, kPairWidth = 132, kAnswerWidth = 250;
constexpr size_t kLongRun = 10, kLeastFold = 4, kRoundWork = 3; ///< frames
constexpr int kThumb = 66, kThumbHeight = 46, kFrameStep = 92, kRowHeight = 92, kLanePad = 12;

/// "Skerrow 60 mm f/2.8" of a Skerrow → "60 mm f/2.8"
QString lensText(const CameraFacts &c)
{
    const QString lens = text(c.lens), make = text(c.make) + ' ';
    return lens.startsWith(make) && make.size() > 1 ? lens.mid(make.size()) : lens;
}

QString clock(const QString &isoTime)
{
    return isoTime.mid(11, 5);
}

/// "14 Oct"; empty where the time is not known.
QString dayText(const QString &isoTime)
{
    const auto day = QDate::fromString(isoTime.left(10), Qt::ISODate);
    return day.isValid() ? QLocale().toString(day, "d MMM") : QString();
}

/// "14 Oct 10:53"
QString dayAndClock(const QString &isoTime)
{
    return (dayText(isoTime) + ' ' + clock(isoTime)).trimmed();
}

/// From the first to the last of some frames; with days where the job has more than one.
QString spanText(const QString &from, const QString &to, bool ofDays)
{
    if (!ofDays)
        return QObject::tr("%1 to %2").arg(clock(from), clock(to));
    const bool oneDay = from.left(10) == to.left(10);
    return QObject::tr("%1 to %2").arg(dayAndClock(from), oneDay ? clock(to) : dayAndClock(to));
}

QString detailsOf(const JobSetup &setup)
{
    QStringList parts;
    if (setup.lamps.empty() && setup.lampKind != LampKind::Unknown)
        parts << text(words::lampKind(setup.lampKind, spoken()));
    for (const auto *part : {&setup.lamps, &setup.modifiers, &setup.power, &setup.backdrop, &setup.notes})
        if (!part->empty())
            parts << text(*part);
    return parts.join(", ");
}

int wordsHeight(const QString &said, const QFont &font, int width)
{
    return QFontMetrics(font).boundingRect(QRect(0, 0, width, 10000), Qt::TextWordWrap, said).height();
}

/// What paintSetup() needs.
int setupHeight(const JobSetup &setup, int number)
{
    const int width = kSetupWidth - 20;
    return wordsHeight(QString("%1 · %2").arg(number).arg(text(setup.title)), face(15, 600), width) + 4 + 22 +
           wordsHeight(detailsOf(setup), face(kBody), width) + 14;
}

} // namespace

DayCanvas::DayCanvas(JobDocument *job, Thumbnails *thumbnails, QWidget *parent)
    : QWidget(parent), m_job(job), m_thumbnails(thumbnails)
{
    readDaySheetsAloud(); // before anything makes a reader of screens ask
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setAccessibleName(tr("Day sheet"));
    connect(job, &JobDocument::changed, this, [this](const JobChange &change) {
        if (keepsServings(
                change)) // how light a frame is, its probes, and what is delivered are not on the sheet
            return;
        m_isStale = true;
        if (isVisible())
            refresh();
        else {
            m_lanes.clear(); // they are the job's, which has made others
            m_placedWidth = -1;
        }
    });
    connect(thumbnails, &Thumbnails::arrived, this, qOverload<>(&QWidget::update));
    refresh();
}

void DayCanvas::chosenOrPlacedAnew()
{
    m_pieces.clear();
    m_placedWidth = -1;
    if (!QAccessible::isActive())
        return;
    QAccessibleEvent event(this, QAccessible::Focus);
    QAccessible::updateAccessibility(&event);
}

void DayCanvas::showEvent(QShowEvent *event)
{
    if (m_isStale)
        refresh();
    QWidget::showEvent(event);
}

void DayCanvas::refresh()
{
    m_isStale = false;
    const auto &state = m_job->state();
    const auto &stations = m_job->stations();
    m_lanes = stations.all();
    m_placedWidth = -1;
    m_charts.clear();
    m_notes.clear();
    const auto dayOf = [&](RowId id) { return state.frame(id)->camera.capturedAt.substr(0, 10); };
    std::set<std::string> days;
    for (const auto &frame : state.frames)
        if (!frame.camera.capturedAt.empty())
            days.insert(frame.camera.capturedAt.substr(0, 10));
    m_spansDays = days.size() > 1;
    for (const auto *lane : m_lanes)
        for (size_t i = 0; m_spansDays && i < lane->frames.size(); ++i)
            if (i == 0 || dayOf(lane->frames[i]) != dayOf(lane->frames[i - 1]))
                m_notes[lane->frames[i]].startsDay = true;
    for (const auto *lane : m_lanes) {
        for (const auto &bracket : lane->brackets)
            for (size_t i = 0; i < bracket.frames.size(); ++i) {
                auto &note = m_notes[bracket.frames[i]];
                note.bracket = int(i) + 1;
                note.chosen = bracket.frames[i] == bracket.chosen;
                note.reason = text(words::bracket(bracket.choice, spoken()));
            }
        for (const auto id : lane->frames)
            if (state.frame(id)->part == FramePart::Product)
                addServing(id);
            else if (state.frame(id)->part == FramePart::Check)
                addCheck(id);
    }
    if (m_selected && !state.frame(m_selected))
        select(0);
    chosenOrPlacedAnew();
    updateGeometry();
    setMinimumHeight(heightForWidth(width()));
    update();
}

void DayCanvas::addServing(RowId frame)
{
    const auto &serving = m_job->job().serving(frame);
    if (const auto said = words::serving(serving, spoken()); !said.empty())
        m_notes[frame].warning = text(said);
    if (serving.drift) {
        m_notes[frame].drift = text(words::drift(serving, spoken()));
        m_notes[frame].bySet = serving.drift;
    }
}

void DayCanvas::addCheck(RowId frame)
{
    const auto &state = m_job->state();
    const auto *reading = state.readingOf(frame);
    const auto *calibration = m_job->job().calibrationFor(frame);
    if (!reading || !calibration)
        return;
    const auto key = std::tuple(reading->id, calibration->id, state.title.tolerance);
    auto known = m_checks.find(key);
    if (known == m_checks.end()) {
        Note note;
        if (const auto check = driftOfCheck(m_job->job(), frame)) {
            note.passes = check->passes;
            note.drift = text(words::drift(*check, spoken()));
        }
        known = m_checks.emplace(key, note).first;
    }
    m_notes[frame].passes = known->second.passes;
    m_notes[frame].drift = known->second.drift;
}

QStringList DayCanvas::Note::words() const
{
    QStringList out;
    for (const auto &each : {reason, warning, drift})
        if (!each.isEmpty())
            out << each;
    return out;
}

const DayCanvas::SmallChart *DayCanvas::smallChart(RowId frame)
{
    const auto known = m_charts.constFind(frame);
    if (known != m_charts.constEnd())
        return known->get();
    const auto &state = m_job->state();
    const auto *reading = m_job->stations().readingToShow(state, frame);
    const auto *calibration = state.calibrationOf(frame, partsFor(state, frame));
    std::shared_ptr<const SmallChart> made;
    if (reading && calibration && !reading->reading.fault() && !calibration->calibration.fault()) {
        const auto proof = proveReading(*calibration->calibration, *reading->reading);
        const auto chart = chartOf(*reading->reading);
        if (proof && chart)
            made = std::make_shared<SmallChart>(SmallChart{*proof, shownGrid(*chart)});
    }
    return m_charts.insert(frame, made)->get();
}

QSize DayCanvas::sizeHint() const
{
    return {1000, heightForWidth(1000)};
}

int DayCanvas::heightForWidth(int wanted) const
{
    const auto other = wanted == width() ? std::vector<PlacedLane>() : layoutFor(wanted);
    const auto &placed = wanted == width() ? placedLanes() : other;
    return placed.empty() ? 200 : placed.back().rect.bottom() + 90;
}

const std::vector<DayCanvas::PlacedLane> &DayCanvas::placedLanes() const
{
    if (std::exchange(m_placedWidth, width()) != width())
        m_placed = layoutFor(width());
    return m_placed;
}

std::vector<std::vector<RowId>> DayCanvas::entriesOf(const Station &lane) const
{
    const auto &state = m_job->state();
    const auto isProduct = [&](size_t i) { return state.frame(lane.frames[i])->part == FramePart::Product; };
    std::vector<std::vector<RowId>> out;
    const auto add = [&](size_t from, size_t to, bool folds) {
        if (folds && to - from >= kLeastFold)
            return out.push_back(
                {lane.frames.begin() + ptrdiff_t(from), lane.frames.begin() + ptrdiff_t(to)});
        for (size_t i = from; i < to; ++i)
            out.push_back({lane.frames[i]});
    };
    for (size_t from = 0; from < lane.frames.size();) {
        size_t to = from;
        while (to < lane.frames.size() && isProduct(to))
            ++to;
        if (to - from <= kLongRun) {
            add(from, std::max(to, from + 1), false);
            from = std::max(to, from + 1);
            continue;
        }
        const auto begin = lane.frames.begin();
        const auto at = size_t(std::find(begin + ptrdiff_t(from), begin + ptrdiff_t(to), m_selected) - begin);
        const size_t open = at < to ? (at >= from + kRoundWork ? at - kRoundWork : from) : to,
                     shut = at < to ? std::min(to, at + kRoundWork + 1) : to;
        add(from, open, true);
        add(open, shut, false);
        add(shut, to, true);
        from = to;
    }
    return out;
}

std::vector<DayCanvas::PlacedLane> DayCanvas::layoutFor(int width) const
{
    std::vector<PlacedLane> out;
    const int left = kMargin + kSetupWidth + kPairWidth,
              right = std::max(left + kFrameStep, width - kAnswerWidth - kMargin);
    const int perRow = std::max(1, (right - left) / kFrameStep);
    int y = 0;
    for (size_t i = 0; i < m_lanes.size(); ++i) {
        const auto &lane = *m_lanes[i];
        PlacedLane placed;
        int cells = 0; // a fold takes two, in one row
        for (const auto &entry : entriesOf(lane)) {
            const int wide = entry.size() > 1 && perRow > 1 ? 2 : 1;
            cells += wide == 2 && cells % perRow == perRow - 1 ? 1 : 0;
            const QRect rect(left + (cells % perRow) * kFrameStep,
                             y + kLanePad + (cells / perRow) * kRowHeight, kThumb + (wide - 1) * kFrameStep,
                             kThumbHeight);
            const bool isBefore =
                entry.size() > 1 && m_selected &&
                std::find(lane.frames.begin(), lane.frames.end(), m_selected) >
                    std::find(lane.frames.begin(), lane.frames.end(), entry.front()) &&
                std::find(lane.frames.begin(), lane.frames.end(), m_selected) != lane.frames.end();
            placed.frames.push_back({isBefore ? entry.back() : entry.front(), rect,
                                     entry.size() > 1 ? entry : std::vector<RowId>()});
            cells += wide;
        }
        const int rows = std::max(1, (cells + perRow - 1) / perRow);
        const int reasonHeight = std::min(80, wordsHeight(text(words::reason(lane.answer, spoken())),
                                                          face(kBody), kAnswerWidth - kMargin - 34));
        const int height = std::max({rows * kRowHeight, 84, 42 + reasonHeight}) + kLanePad;
        placed.rect = {0, y, width, height};
        placed.line = y + kLanePad + kThumbHeight / 2;
        placed.answer = {width - kAnswerWidth, y + kLanePad - 2, kAnswerWidth - kMargin, 42 + reasonHeight};
        if (i == 0 || m_lanes[i - 1]->setup != lane.setup)
            placed.setup = {kMargin, y + kLanePad - 4, kSetupWidth - 20, height};
        y += height;
        out.push_back(placed);
        // the last lane of a setup makes room for what stands beside the band
        if (i + 1 == m_lanes.size() || m_lanes[i + 1]->setup != lane.setup) {
            const auto &setups = m_job->state().setups;
            const auto setup =
                std::find_if(setups.begin(), setups.end(), [&](const auto &s) { return s.id == lane.setup; });
            size_t first = i;
            while (first > 0 && m_lanes[first - 1]->setup == lane.setup)
                --first;
            const int missing =
                setup == setups.end() ? 0 : out[first].rect.top() + kLanePad + setupHeight(*setup, 1) - y;
            if (missing > 0) {
                out.back().rect.setHeight(out.back().rect.height() + missing);
                y += missing;
            }
            out[first].setup.setBottom(y - 4);
        }
    }
    return out;
}

void DayCanvas::paintSetup(QPainter &painter, const Station &lane, const PlacedLane &placed) const
{
    const auto &setups = m_job->state().setups;
    const auto setup =
        std::find_if(setups.begin(), setups.end(), [&](const auto &s) { return s.id == lane.setup; });
    if (setup == setups.end())
        return;
    QRect area = placed.setup;
    const auto title = QString("%1 · %2").arg(setup - setups.begin() + 1).arg(text(setup->title));
    area.setTop(area.top() + drawWords(painter, area, title, face(15, 600)) + 4);
    QString from, to;
    for (const auto *other : m_lanes)
        if (other->setup == lane.setup)
            for (const auto id : other->frames) {
                const auto at = text(m_job->state().frame(id)->camera.capturedAt);
                from = from.isEmpty() || at < from ? at : from;
                to = at > to ? at : to;
            }
    if (!from.isEmpty())
        area.setTop(area.top() + drawWords(painter, area, spanText(from, to, m_spansDays), face(kBody)) + 2);
    drawWords(painter, area, detailsOf(*setup), face(kBody));
}

void DayCanvas::paintFrame(QPainter &painter, const JobFrame &frame, const QRect &rect)
{
    const auto picture = m_thumbnails->of(frame);
    QRect shown = rect;
    painter.fillRect(rect.adjusted(-5, 0, 5, 0), palette().window()); // the line stops short of the frame
    if (const auto *small = frame.part == FramePart::Chart ? smallChart(frame.id) : nullptr) {
        drawMiniChart(painter, rect, small->proof, small->grid);
    } else if (!picture.isNull()) {
        const QSize size = picture.size().scaled(rect.size(), Qt::KeepAspectRatio);
        shown = QRect(rect.center() - QPoint(size.width() / 2, size.height() / 2), size);
        painter.setRenderHint(QPainter::SmoothPixmapTransform);
        painter.drawImage(shown, picture);
    } else {
        painter.setPen(QPen(palette().color(QPalette::Mid), 1, Qt::DashLine));
        painter.drawRect(rect.adjusted(0, 0, -1, -1));
    }
    if (frame.setAside) {
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setPen(QPen(Qt::black, 6));
        painter.drawLine(shown.bottomLeft(), shown.topRight());
        painter.setPen(QPen(Qt::white, 3));
        painter.drawLine(shown.bottomLeft(), shown.topRight());
        painter.setRenderHint(QPainter::Antialiasing, false);
    }
    if (frame.id == m_selected) {
        painter.setBrush(Qt::NoBrush); // an answer before may have left one
        painter.setPen(QPen(palette().color(QPalette::WindowText), hasFocus() ? 3 : 2));
        painter.drawRect(shown.adjusted(-4, -4, 4, 4));
    }
    painter.setPen(palette().color(QPalette::WindowText));
    const QRect caption(rect.left() - 12, rect.bottom() + 6, kFrameStep - 2, 18);
    const auto note = m_notes.constFind(frame.id);
    const bool doubted = note != m_notes.constEnd() && !note->warning.isEmpty();
    const auto at = text(frame.camera.capturedAt);
    QString said = clock(at);
    // the day where it is another than that of the frame before
    if (note != m_notes.constEnd() && note->startsDay)
        drawLine(painter, caption.translated(0, 17), dayText(at), face(kBody), Qt::AlignCenter);
    else if (note != m_notes.constEnd() && note->bySet)
        paintDrift(painter, *note->bySet, rect);
    if (frame.setAside)
        said += tr(" spoilt");
    else if (note != m_notes.constEnd() && note->bracket != 0)
        said += note->chosen ? tr(" used") : QString();
    else if (frame.part == FramePart::Flat)
        said += tr(" flat");
    else if (doubted)
        said += tr(" doubt");
    const auto passes = note != m_notes.constEnd() ? note->passes : std::nullopt;
    if (passes && !frame.setAside)
        said += *passes ? tr(" pass") : tr(" fail");
    const bool isBold = doubted || !passes.value_or(true);
    drawLine(painter, caption, said, face(kBody, isBold ? 600 : 400), Qt::AlignCenter);
    if (note != m_notes.constEnd() && note->bracket != 0) { // a rule joins the exposures of a bracket
        const int back = note->bracket == 1 || rect.left() < kMargin + kSetupWidth + kPairWidth + kThumb
                             ? 0
                             : kFrameStep - kThumb;
        painter.fillRect(QRect(rect.left() - back, rect.bottom() + 4, kThumb + back, note->chosen ? 3 : 1),
                         painter.pen().color());
    }
}

/// What the set says of the light since the chart: a rule for the colour, to the right where it is warmer,
/// and below it one for the level, to the right where it is brighter. Its length tells how far; black is in
/// doubt.
void DayCanvas::paintDrift(QPainter &painter, const SetDrift &drift, const QRect &frame) const
{
    constexpr int kReach = 32;
    constexpr double kMired = 0.8, kStops = 64; // pixels each
    const int middle = frame.center().x();
    const auto ink = palette().color(QPalette::WindowText), calm = palette().color(QPalette::Dark);
    const auto rule = [&](int top, double length, bool isInDoubt) {
        const int reach = std::clamp(int(std::lround(length)), -kReach, kReach);
        painter.fillRect(QRect(middle + std::min(reach, 0), top, std::abs(reach), 4), isInDoubt ? ink : calm);
    };
    const int top = frame.bottom() + 26;
    rule(top, kMired * drift.mired, drift.change.visible.warmth != 0);
    if (drift.change.stops)
        rule(top + 5, kStops * *drift.change.stops, drift.change.visible.stops != 0);
    painter.fillRect(QRect(middle, top - 2, 1, 13), ink);
}

/// A few pictures of the run, how many frames it has, when, and how many are in doubt.
void DayCanvas::paintFold(QPainter &painter, const PlacedFrame &fold)
{
    const auto &state = m_job->state();
    painter.fillRect(fold.rect.adjusted(-5, 0, 5, 0), palette().window());
    constexpr int kPictures = 3;
    const int step = (fold.rect.width() - kThumb) / (kPictures - 1);
    for (int i = 0; i < kPictures; ++i) {
        const auto &frame = *state.frame(fold.folded[(fold.folded.size() - 1) * size_t(i) / (kPictures - 1)]);
        const QRect where(fold.rect.left() + i * step, fold.rect.top(), kThumb, kThumbHeight);
        painter.fillRect(where.adjusted(-3, 0, 0, 0), palette().window());
        if (const auto picture = m_thumbnails->of(frame); !picture.isNull()) {
            painter.setRenderHint(QPainter::SmoothPixmapTransform);
            const QSize size = picture.size().scaled(where.size(), Qt::KeepAspectRatio);
            painter.drawImage(QRect(where.center() - QPoint(size.width() / 2, size.height() / 2), size),
                              picture);
        } else {
            painter.setPen(QPen(palette().color(QPalette::Mid), 1, Qt::DashLine));
            painter.drawRect(where.adjusted(0, 0, -1, -1));
        }
    }
    painter.setPen(palette().color(QPalette::WindowText));
    painter.fillRect(QRect(fold.rect.left(), fold.rect.bottom() + 3, fold.rect.width(), 1),
                     painter.pen().color());
    const QRect caption(fold.rect.left() - 12, fold.rect.bottom() + 6, fold.rect.width() + 24, 18);
    const auto said = foldWords(fold.folded);
    drawLine(painter, caption, said.front(), face(kBody, 600), Qt::AlignCenter);
    drawLine(painter, caption.translated(0, 17), said.back(), face(kBody), Qt::AlignCenter);
}

QString DayCanvas::spanWords(const std::vector<RowId> &run) const
{
    const auto at = [&](RowId id) { return text(m_job->state().frame(id)->camera.capturedAt); };
    return spanText(at(run.front()), at(run.back()), m_spansDays);
}

int DayCanvas::foldedFrames(RowId frame) const
{
    for (const auto &lane : placedLanes())
        for (const auto &placed : lane.frames)
            if (std::find(placed.folded.begin(), placed.folded.end(), frame) != placed.folded.end())
                return int(placed.folded.size());
    return 0;
}

void DayCanvas::paintAnswer(QPainter &painter, const Station &lane, const QRect &rect) const
{
    using State = Answer::State;
    const auto kind = lane.answer.state;
    const bool trouble = kind == State::LookAgain || kind == State::ShootAgain;
    const QRect inner = rect.adjusted(26, 8, -8, -6);
    if (kind == State::None) {
        painter.setPen(palette().color(QPalette::WindowText));
    } else {
        QPolygon tag;
        tag << QPoint(rect.left(), rect.center().y()) << QPoint(rect.left() + 14, rect.top())
            << rect.topRight() << rect.bottomRight() << QPoint(rect.left() + 14, rect.bottom());
        painter.setPen(Qt::NoPen);
        painter.setBrush(palette().brush(trouble ? QPalette::Highlight : QPalette::Base));
        painter.setRenderHint(QPainter::Antialiasing);
        painter.drawPolygon(tag);
        painter.setPen(palette().color(trouble ? QPalette::HighlightedText : QPalette::Text));
    }
    drawLine(painter, {inner.left(), inner.top(), inner.width(), 24},
             text(words::headline(lane.answer, spoken())), face(kAnswer, 600));
    drawWords(painter, {inner.left(), inner.top() + 25, inner.width(), inner.height() - 22},
              text(words::reason(lane.answer, spoken())), face(kBody));
}

void DayCanvas::paintEvent(QPaintEvent *event)
{
    QPainter painter(this);
    const auto &lanes = placedLanes();
    for (size_t i = 0; i < lanes.size(); ++i) {
        const auto &lane = *m_lanes[i];
        const auto &placed = lanes[i];
        if (!placed.rect.united(placed.setup).intersects(event->rect()))
            continue;
        painter.setPen(palette().color(QPalette::WindowText));
        if (!placed.setup.isNull())
            paintSetup(painter, lane, placed);
        const int pair = kMargin + kSetupWidth;
        if (!lane.frames.empty()) {
            drawLine(painter, {pair, placed.rect.top() + kLanePad - 2, kPairWidth - 12, 20},
                     text(lane.camera.model.empty() ? "unknown camera" : lane.camera.model),
                     face(kBody, 600));
            drawLine(painter, {pair, placed.rect.top() + kLanePad + 18, kPairWidth - 12, 20},
                     lensText(lane.camera), face(kBody));
            painter.setPen(palette().color(QPalette::Mid));
            painter.drawLine(pair + kPairWidth - 12, placed.line, placed.answer.left() - 12, placed.line);
            for (const auto &frame : placed.frames)
                if (!frame.rect.adjusted(-12, -6, 24, 30).intersects(event->rect()))
                    continue;
                else if (!frame.folded.empty())
                    paintFold(painter, frame);
                else
                    paintFrame(painter, *m_job->state().frame(frame.id), frame.rect);
            paintAnswer(painter, lane, placed.answer);
        } else {
            drawWords(painter, {pair, placed.rect.top() + kLanePad, width() - pair - kMargin, 60},
                      i > 0
                          ? tr("Shoot a chart: this light has none yet.")
                          : tr("No frames yet. Drop raw files here, or press Ctrl+O. F6 opens a simulated "
                               "studio.\nA chart frame is read, balanced, fitted and proven automatically."),
                      face(kBody));
        }
        painter.setPen(palette().color(QPalette::Mid));
        const bool bandEnds = i + 1 == lanes.size() || m_lanes[i + 1]->setup != lane.setup;
        painter.drawLine(bandEnds ? 0 : pair, placed.rect.bottom(), width(), placed.rect.bottom());
    }
    if (!lanes.empty())
        paintHints(painter, lanes.back().rect.bottom() +
                                (paintSelected(painter, lanes.back().rect.bottom() + 14) ? 46 : 20));
}

/// Under the last band: what there is to say of the frame that is chosen.
bool DayCanvas::paintSelected(QPainter &painter, int y) const
{
    if (!m_job->state().frame(m_selected))
        return false;
    const auto said = frameWords(m_selected);
    painter.setPen(palette().color(QPalette::WindowText));
    drawLine(painter, {kMargin, y, width() - 2 * kMargin, 22}, said.join(" · "), face(kBody));
    return true;
}

/// Under the last band: what can be done next.
void DayCanvas::paintHints(QPainter &painter, int y) const
{
    painter.setPen(palette().color(QPalette::WindowText));
    const struct
    {
        QString what, key;
    } hints[] = {{tr("Add frames"), "Ctrl+O"},
                 {tr("Change the light"), "Ctrl+L"},
                 {tr("Open on the bench"), "Enter"},
                 {tr("Profiles"), "Ctrl+E"}};
    int x = kMargin;
    for (const auto &hint : hints) {
        x = drawLine(painter, {x, y, 260, 24}, hint.what, face(15, 600)) + 8;
        x = drawLine(painter, {x, y, 120, 24}, hint.key, face(15)) + 40;
    }
}

QRect DayCanvas::frameRect(RowId frame) const
{
    for (const auto &lane : placedLanes())
        for (const auto &placed : lane.frames)
            if (placed.id == frame)
                return placed.rect;
    return {};
}

QRect DayCanvas::answerRect(int lane) const
{
    const auto &lanes = placedLanes();
    return lane < int(lanes.size()) ? lanes[size_t(lane)].answer : QRect();
}

RowId DayCanvas::frameAt(const QPoint &point) const
{
    for (const auto &lane : placedLanes())
        for (const auto &placed : lane.frames)
            if (placed.rect.adjusted(-8, -4, 8, 26).contains(point))
                return placed.id;
    return 0;
}

DaySheet::DaySheet(JobDocument *job, Thumbnails *thumbnails, QWidget *parent)
    : QScrollArea(parent), m_canvas(new DayCanvas(job, thumbnails))
{
    setFrameShape(QFrame::NoFrame);
    setWidgetResizable(true);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setWidget(m_canvas);
    setFocusProxy(m_canvas);
    connect(m_canvas, &DayCanvas::showAsked, this,
            [this](const QRect &r) { ensureVisible(r.center().x(), r.center().y(), 0, 80); });
}

} // namespace wavechroma::app
