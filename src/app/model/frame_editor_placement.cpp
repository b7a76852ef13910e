// The hand on the chart: where it lies, which chart it is, and which of its patches count.
#include "app/model/frame_editor.h"
#include "app/model/spoken.h"
#include "app/model/upright.h"
#include "core/tasks/frame_files.h"
#include "core/tasks/place_task.h"

#include <algorithm>
#include <cmath>

namespace wavechroma::app {

/// A placement that the hand has finished: all stops follow, in one step.
void FrameEditor::finishPlacement(const Result<Reading> &moved, const QString &undoText)
{
    if (!moved) {
        emit problem(tr("The chart cannot be placed there: patches would lie outside the frame or cross. It "
                        "was moved back."));
        finishWork(); // back to where it was let go last
        refresh();
        return;
    }
    auto reading = *moved;
    reading.image = m_facts->frame->path;
    fitAnew(reading, undoText);
}

void FrameEditor::follow(const Corners &corners, double windowShare, bool finished)
{
    if (!canEdit())
        return;
    const auto moved =
        movedReading(*m_facts->reading, *raw(), corners, windowShare, sheetOf(m_job->state()), !finished);
    if (finished)
        return finishPlacement(moved, tr("Move Chart"));
    if (!moved)
        return;
    auto asked = request();
    asked.ask.parts = m_facts->parts;
    asked.preview = true; // a step of a drag has 16 ms; the whole answer comes when it is let go
    setFacts(benchFacts(*m_facts, passFrom(*moved, asked)));
}

void FrameEditor::dropCorner(const Corners &corners, double windowShare)
{
    if (!m_snaps || !canEdit())
        return follow(corners, windowShare, true);
    finishPlacement(snappedReading(*m_facts->reading, *raw(), corners, windowShare, sheetOf(m_job->state())),
                    tr("Move Chart"));
}

void FrameEditor::clickPatch(const QString &id)
{
    if (!canEdit())
        return;
    auto off = m_facts->reading->leftOut;
    const auto name = id.toStdString();
    if (std::erase(off, name) == 0)
        off.push_back(name);
    switchOff(off);
}

void FrameEditor::switchOff(const std::vector<std::string> &patches)
{
    if (!canEdit())
        return;
    const auto reading = readingWithout(*m_facts->reading, *raw(), patches, sheetOf(m_job->state()));
    if (!reading) {
        emit problem(text(reading.error()));
        return;
    }
    fitAnew(*reading, tr("Switch Patches Off or On"));
}

void FrameEditor::placeByThree(const std::vector<PixelPoint> &three)
{
    if (!raw() || three.size() != 3)
        return;
    redo(tr("Place Chart by Three Corners"), tr("placing the chart"),
         [frame = raw(), chart = m_facts->chart, at = std::array{three[0], three[1], three[2]},
          sheet = sheetOf(m_job->state()), row = *m_facts->frame, asked = request(),
          flats = keptFlats()](const Progress &progress) -> Result<Redoing> {
             auto reading = readingByThree(*frame, chart, at, sheet);
             if (!reading)
                 return reading.error();
             reading->image = row.path;
             reading->flats = frame->flat ? flats : std::vector<std::string>();
             return Redoing{{row.id, passFrom(*reading, asked, progress)}};
         });
}

/// Corners of a chart half as wide as the frame, upright as the picture is seen, in its middle: near enough
/// to drag from.
static Corners middleCorners(const RawFrame &raw, const ChartDefinition &chart)
{
    const auto extent = chartExtent(chart);
    const bool onSide = raw.orientation >= 5;
    const double wide = onSide ? raw.height : raw.width, high = onSide ? raw.width : raw.height;
    const double across = std::min(wide * 0.25, high * 0.4 * extent.x / extent.y),
                 down = across * extent.y / extent.x;
    const std::pair<double, double> signs[] = {{-1, -1}, {1, -1}, {1, 1}, {-1, 1}};
    const auto back = uprightTransform(raw.orientation, raw.width, raw.height).inverted();
    Corners corners;
    for (size_t i = 0; i < 4; ++i) {
        const auto at =
            back.map(QPointF(wide / 2 + signs[i].first * across, high / 2 + signs[i].second * down));
        corners[i] = {at.x(), at.y()};
    }
    return corners;
}

void FrameEditor::placeByHand()
{
    useChart(m_facts->chart, true);
}

/// They speak of another chart's patches.
static void forgetPatches(FitRequest &asked)
{
    asked.ask.weights.clear();
    asked.ask.without.clear();
    asked.ask.with.clear();
    asked.with.clear();
}

void FrameEditor::useChart(const ChartDefinition &chart, bool byHand)
{
    if (!raw())
        return;
    ReadRequest how;
    how.definition = chart;
    if (byHand)
        how.corners = middleCorners(*raw(), chart);
    how.sheet = sheetOf(m_job->state());
    auto asked = request();
    if (chart.id != m_facts->chart.id)
        forgetPatches(asked);
    redo(byHand ? tr("Place Chart by Hand") : tr("Read as %1").arg(text(chart.name)), tr("reading the chart"),
         [frame = raw(), how, row = *m_facts->frame, asked,
          flats = keptFlats()](const Progress &progress) -> Result<Redoing> {
             auto reading = readFrame(*frame, how, progress);
             if (!reading)
                 return reading.error();
             reading->image = row.path;
             reading->flats = frame->flat ? flats : std::vector<std::string>();
             return Redoing{{row.id, passFrom(*reading, asked, progress)}};
         });
}

void FrameEditor::readAgain()
{
    if (!raw())
        return;
    const auto flats = flatsOf(m_job->state(), m_facts->frame->setup, m_facts->frame->camera);
    redo(tr("Read Again"), tr("looking for the chart"),
         [frame = raw(), around = surroundingsOf(m_job->state(), m_job->store()->folder()), flats,
          row = *m_facts->frame, asked = request(),
          chart = m_facts->chart.id](const Progress &progress) mutable -> Result<Redoing> {
             RawFrame plain = *frame;
             plain.flat = nullptr;
             auto reading = readWithFlats(around, plain, flats, progress);
             if (!reading)
                 return unusable("The frame could not be read again. Its old reading is kept. {reason}",
                                 {{"reason", reading.error().phrase}});
             reading->image = row.path;
             if (reading->chart != chart)
                 forgetPatches(asked);
             return Redoing{{row.id, passFrom(*reading, asked, progress)}};
         });
}

std::vector<RowId> FrameEditor::framesToCarryTo() const
{
    std::vector<RowId> out;
    const auto *station = m_facts->frame ? m_job->stations().of(m_facts->frame->id) : nullptr;
    if (!station || !m_facts->reading || !m_facts->reading->found)
        return out;
    const auto at = std::find(station->frames.begin(), station->frames.end(), m_facts->frame->id);
    for (auto next = at + 1; next < station->frames.end(); ++next) {
        const auto *frame = m_job->state().frame(*next);
        if (frame->part != FramePart::Chart)
            break;
        if (frame->width == m_facts->reading->width && frame->height == m_facts->reading->height)
            out.push_back(*next);
    }
    return out;
}

void FrameEditor::carryPlacement()
{
    const auto targets = framesToCarryTo();
    if (targets.empty()) {
        emit problem(tr("The next frame is not a chart frame of the same size."));
        return;
    }
    struct Target
    {
        JobFrame row;
        std::filesystem::path file;
        FitRequest asked;
    };
    std::vector<Target> all;
    for (const auto id : targets) {
        const auto &row = *m_job->state().frame(id);
        all.push_back({row, m_job->store()->fullPath(row), requestFor(m_job->state(), id)});
    }
    redo(tr("Copy Placement"), tr("placing the chart in %1 frames").arg(all.size()),
         [all, from = *m_facts->reading, folder = m_job->store()->folder(),
          sheet = sheetOf(m_job->state())](const Progress &progress) -> Result<Redoing> {
             Redoing out;
             std::vector<std::filesystem::path> flats;
             for (const auto &flat : from.flats)
                 flats.push_back(folder / flat);
             for (const auto &target : all) {
                 if (progress.stopped())
                     return unusable("{file}: stopped", {{"file", target.row.path}});
                 auto frame = openFrame(target.file);
                 if (frame && !flats.empty())
                     frame = withFlats(*frame, flats);
                 auto reading = frame ? carriedReading(from, *frame, sheet) : Result<Reading>(frame.error());
                 if (!reading)
                     return reading.error();
                 reading->image = target.row.path;
                 out.push_back({target.row.id, passFrom(*reading, target.asked, progress)});
             }
             return out;
         });
}

std::optional<ScaleVerdict> FrameEditor::measured(const PixelPoint &from, const PixelPoint &to,
                                                  double millimetres)
{
    const auto scale = pixelsPerMmBetween(from, to, millimetres);
    if (!scale) {
        emit problem(tr("A ruler needs two different points and a length above zero."));
        return std::nullopt;
    }
    keepRuler(*scale);
    const auto sheet = sheetOf(m_job->state());
    return verdictOn(Scale{*scale, 0, 0}, m_job->state().title.intendedPpi, sheet.scaleError,
                     sheet.distortion);
}

/// The station's scale from now on: pictures leave with it.
void FrameEditor::keepRuler(double pixelsPerMm)
{
    const auto *before = m_job->state().frame(m_job->currentFrame());
    if (!before || m_job->isReadOnly() || before->rulerPixelsPerMm == pixelsPerMm)
        return;
    auto after = *before;
    after.rulerPixelsPerMm = pixelsPerMm;
    JobChange change;
    change.frames.push_back({*before, after});
    m_job->push(tr("Ruler"), change);
}

} // namespace wavechroma::app
