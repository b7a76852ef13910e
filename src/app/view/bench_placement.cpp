// The hand on the chart: where it lies, which chart it is, and which of its patches count.
#include "app/view/bench.h"

#include "app/view/read_stop.h"

#include <algorithm>
#include <cmath>

namespace wavechroma::app {

/// A placement that the hand has finished: all stops follow, in one step.
void Bench::finishPlacement(const Result<Reading> &moved, const QString &undoText)
{
    if (!moved) {
        emit problem(
            tr("The chart cannot lie there: its patches would leave the frame or cross. It went back."));
        finishWork(); // back to where it was let go last
        refresh();
        return;
    }
    auto reading = *moved;
    reading.image = m_facts.frame->path;
    fitAnew(reading, undoText);
}

void Bench::followPlacement(const Corners &corners, double windowShare, bool finished)
{
    const auto frame = m_read->view()->frame();
    if (!frame || !frame->frame || !m_facts.reading || !m_facts.frame || frame->id != m_facts.frame->id)
        return;
    const auto moved = movedReading(*m_facts.reading, *frame->frame, corners, windowShare,
                                    sheetOf(m_job->state()), !finished);
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
    if (!m_snaps || !frame || !frame->frame || !m_facts.reading || !m_facts.frame ||
        frame->id != m_facts.frame->id)
        return followPlacement(corners, windowShare, true);
    finishPlacement(
        snappedReading(*m_facts.reading, *frame->frame, corners, windowShare, sheetOf(m_job->state())),
        tr("Move Chart"));
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

void Bench::placeByThree(const std::vector<PixelPoint> &three)
{
    const auto frame = m_read->view()->frame();
    if (!frame || !frame->frame || !m_facts.frame || three.size() != 3)
        return;
    redo(tr("Place Chart by Three Corners"), tr("placing the chart"),
         [raw = frame->frame, chart = m_facts.chart, at = std::array{three[0], three[1], three[2]},
          sheet = sheetOf(m_job->state()), row = *m_facts.frame, request = requestFor(*m_facts.frame),
          flats = keptFlats()]() -> Redoing {
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

/// Corners of a chart half as wide as the frame, upright as the picture is seen, in its middle: near enough
/// to drag from.
static Corners middleCorners(const FrameView &view, const RawFrame &raw, const ChartDefinition &chart)
{
    const auto extent = chartExtent(chart);
    const bool onSide = raw.orientation >= 5;
    const double wide = onSide ? raw.height : raw.width, high = onSide ? raw.width : raw.height;
    const double across = std::min(wide * 0.25, high * 0.4 * extent.x / extent.y),
                 down = across * extent.y / extent.x;
    const std::pair<double, double> signs[] = {{-1, -1}, {1, -1}, {1, 1}, {-1, 1}};
    const QPointF middle = view.viewFromFrame({raw.width / 2.0, raw.height / 2.0});
    Corners corners;
    for (size_t i = 0; i < 4; ++i)
        corners[i] = view.frameFromView(middle + QPointF(signs[i].first * across, signs[i].second * down) *
                                                     view.zoom());
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
    if (chart.id != m_facts.chart.id) { // they speak of another chart's patches
        fit.weights.clear();
        fit.with.clear();
    }
    redo(byHand ? tr("Place Chart by Hand") : tr("Read as %1").arg(QString::fromStdString(chart.name)),
         tr("reading the chart"),
         [raw = frame->frame, request, row = *m_facts.frame, fit, flats = keptFlats()]() -> Redoing {
             auto reading = readFrame(*raw, request);
             if (!reading)
                 return reading.error();
             reading->image = row.path;
             reading->flats = raw->flat ? flats : std::vector<std::string>();
             return std::vector{Redone{row.id, passFrom(*reading, fit)}};
         });
}

void Bench::readAgain()
{
    const auto frame = m_read->view()->frame();
    if (!frame || !frame->frame || !m_facts.frame)
        return;
    const auto flats = flatsOf(m_job->state(), m_facts.frame->setup, m_facts.frame->camera);
    redo(tr("Read Again"), tr("looking for the chart"),
         [raw = frame->frame, around = surroundingsOf(m_job->state(), m_job->store()->folder()), flats,
          row = *m_facts.frame, request = requestFor(*m_facts.frame),
          chart = m_facts.chart.id]() mutable -> Redoing {
             RawFrame plain = *raw;
             plain.flat = nullptr;
             auto reading = readWithFlats(around, plain, flats);
             if (!reading)
                 return unusable("The frame could not be read again, and its old reading stays. " +
                                 reading.error().message);
             reading->image = row.path;
             if (reading->chart != chart) {
                 request.weights.clear();
                 request.with.clear();
             }
             return std::vector{Redone{row.id, passFrom(*reading, request)}};
         });
}

std::vector<RowId> Bench::framesToCarryTo() const
{
    std::vector<RowId> out;
    if (!m_facts.frame || !m_facts.reading || !m_facts.reading->found)
        return out;
    for (const auto &lane : lanesOf(m_job->state())) {
        const auto at = std::find_if(lane.frames.begin(), lane.frames.end(),
                                     [&](const auto *f) { return f->id == m_facts.frame->id; });
        for (auto next = at; next != lane.frames.end() && (next == at || (*next)->part == FramePart::Chart);
             ++next)
            if (next != at && (*next)->width == m_facts.reading->width &&
                (*next)->height == m_facts.reading->height)
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
    struct Target
    {
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
         [all, from = *m_facts.reading, folder = m_job->store()->folder(),
          sheet = sheetOf(m_job->state())]() -> Redoing {
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
