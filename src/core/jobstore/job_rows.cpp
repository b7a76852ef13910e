#include "core/jobstore/job_rows.h"

#include <algorithm>

namespace wavechroma {

static constexpr const char *kParts[] = {"chart", "flat", "grey", "product", "check"};

const char *nameOf(FramePart part)
{
    return kParts[size_t(part)];
}

std::optional<FramePart> partFrom(const std::string &name)
{
    for (size_t i = 0; i < std::size(kParts); ++i)
        if (name == kParts[i])
            return FramePart(i);
    return std::nullopt;
}

const JobFrame *JobState::frame(RowId id) const
{
    const auto at = std::lower_bound(frames.begin(), frames.end(), id,
                                     [](const JobFrame &f, RowId wanted) { return f.id < wanted; });
    return at == frames.end() || at->id != id ? nullptr : &*at;
}

const JobReading *JobState::readingOf(RowId frame) const
{
    const auto at =
        std::find_if(readings.begin(), readings.end(), [&](const auto &r) { return r.frame == frame; });
    return at == readings.end() ? nullptr : &*at;
}

const JobCalibration *JobState::calibrationOf(RowId frame, const Parts &parts) const
{
    const auto at = std::find_if(calibrations.begin(), calibrations.end(),
                                 [&](const auto &c) { return c.frame == frame && c.brief.parts == parts; });
    return at == calibrations.end() ? nullptr : &*at;
}

const JobCalibration *JobState::calibration(RowId id) const
{
    const auto at =
        std::find_if(calibrations.begin(), calibrations.end(), [&](const auto &c) { return c.id == id; });
    return at == calibrations.end() ? nullptr : &*at;
}

std::vector<const JobCalibration *> JobState::calibrationsOf(RowId frame) const
{
    std::vector<const JobCalibration *> out;
    for (const auto &row : calibrations)
        if (row.frame == frame)
            out.push_back(&row);
    return out;
}

std::vector<const JobProbe *> JobState::probesOf(RowId frame) const
{
    std::vector<const JobProbe *> out;
    for (const auto &row : probes)
        if (row.frame == frame)
            out.push_back(&row);
    return out;
}

JobReading jobReading(RowId id, RowId frame, Reading reading)
{
    Reading brief;
    brief.image = reading.image;
    brief.camera = reading.camera;
    brief.chart = reading.chart;
    brief.found = reading.found;
    brief.width = reading.width;
    brief.height = reading.height;
    brief.corners = reading.corners;
    brief.distortion = reading.distortion;
    brief.leftOut = reading.leftOut;
    brief.flats = reading.flats;
    for (const auto &check : reading.checks)
        if (check.severity != Severity::Ok || check.id == CheckId::Exposure)
            brief.checks.push_back(check);
    for (const auto &patch : reading.patches)
        brief.patches.push_back({patch.id, patch.mean, {}, patch.count, patch.clipped, patch.low});
    return {id, frame, std::move(brief), std::move(reading)};
}

JobCalibration jobCalibration(RowId id, RowId frame, Calibration calibration, bool recommended,
                              const Proof *proof)
{
    CalibrationBrief brief{calibration.parts, recommended, false, calibration.crossValidated.mean};
    if (proof) {
        brief.mean = proof->summary.mean;
        brief.worst = proof->summary.max;
        brief.worstPatch = proof->worst;
    }
    brief.light = calibration.light.name;
    brief.cctKelvin = calibration.light.cctKelvin;
    brief.duv = calibration.light.duv;
    return {id, frame, std::move(brief), std::move(calibration)};
}

bool JobChange::isEmpty() const
{
    bool out = titles.empty();
    forEachKind([&](auto, auto changes) { out = out && (this->*changes).empty(); });
    return out;
}

template <class Row> static void reverse(std::vector<RowChange<Row>> &rows)
{
    std::reverse(rows.begin(), rows.end());
    for (auto &row : rows)
        std::swap(row.before, row.after);
}

JobChange reversed(const JobChange &change)
{
    JobChange out = change;
    reverse(out.titles);
    forEachKind([&](auto, auto changes) { reverse(out.*changes); });
    return out;
}

template <class Row>
static void mergeRows(std::vector<RowChange<Row>> &older, const std::vector<RowChange<Row>> &newer)
{
    const auto idOf = [](const RowChange<Row> &change) {
        return change.after ? change.after->id : change.before->id;
    };
    for (const auto &change : newer) {
        const auto at =
            std::find_if(older.begin(), older.end(), [&](const auto &o) { return idOf(o) == idOf(change); });
        if (at == older.end())
            older.push_back(change);
        else if (!at->before && !change.after)
            older.erase(at); // made and unmade
        else
            at->after = change.after;
    }
}

JobChange merged(JobChange older, const JobChange &newer)
{
    mergeRows(older.titles, newer.titles);
    forEachKind([&](auto, auto changes) { mergeRows(older.*changes, newer.*changes); });
    return older;
}

template <class Row> static void applyRows(std::vector<Row> &rows, const std::vector<RowChange<Row>> &changes)
{
    for (const auto &change : changes) {
        const RowId id = change.after ? change.after->id : change.before->id;
        const auto at = std::lower_bound(rows.begin(), rows.end(), id,
                                         [](const Row &row, RowId wanted) { return row.id < wanted; });
        const bool exists = at != rows.end() && at->id == id;
        if (change.after && exists)
            *at = *change.after;
        else if (change.after)
            rows.insert(at, *change.after);
        else if (exists)
            rows.erase(at);
    }
}

/// May it make another choice of common parts?
static bool concernsCharts(const JobChange &change)
{
    return !change.calibrations.empty() ||
           std::any_of(change.frames.begin(), change.frames.end(), [](const RowChange<JobFrame> &row) {
               const bool wasChart = row.before && row.before->part == FramePart::Chart,
                          isChart = row.after && row.after->part == FramePart::Chart;
               return wasChart != isChart || (isChart && row.before->setAside != row.after->setAside);
           });
}

void apply(JobState &state, const JobChange &change)
{
    for (const auto &title : change.titles)
        if (title.after)
            state.title = *title.after;
    forEachKind([&](auto rows, auto changes) {
        if (!(change.*changes).empty())
            applyRows((state.*rows).edit(), change.*changes);
    });
    if (concernsCharts(change))
        state.common = commonParts(state);
}

RowId nextId(const JobState &state)
{
    RowId last = 0;
    forEachKind([&](auto rows, auto) {
        if (!(state.*rows).empty())
            last = std::max(last, (state.*rows).back().id); // they are in the order of their ids
    });
    return last + 1;
}

} // namespace wavechroma
