#include "core/tasks/serve_task.h"

#include "core/jobstore/job_store.h"
#include "core/measure/flat_field.h"
#include "core/raw/open_frame.h"
#include "core/tasks/job_task.h"
#include "core/tasks/picture_source.h"

namespace wavechroma {

namespace {

/// A reading of what says white in a frame: a grey card, or the frame as a whole where it is an even field.
Result<Reading> whiteIn(const RawFrame &frame, const ToleranceSheet &sheet, const Progress &progress)
{
    ReadRequest request;
    request.sheet = sheet;
    request.chart = looksFlat(frame) ? "even-field" : "grey-card";
    auto reading = readFrame(frame, request, progress);
    if (reading && !reading->found)
        return unusable(
            "{file}: shows no grey card and is no even field, so that nothing in it says what white is",
            {{"file", frame.path}});
    return reading;
}

/// The frame becomes a grey of the job, read and fitted.
Result<JobChange> madeGrey(const JobState &state, const std::filesystem::path &file, const JobFrame &row,
                           const Progress &progress)
{
    const auto pass = whitePass(state, file, row, progress);
    if (!pass)
        return pass.error();
    auto grey = row;
    grey.part = FramePart::Grey;
    grey.setAside = pass->isStopped;
    auto change = changeFor(state, row.id, *pass);
    if (!(grey == row))
        change.frames.push_back({row, grey});
    return change;
}

} // namespace

Result<StationPass> whitePass(const JobState &state, const std::filesystem::path &file, const JobFrame &row,
                              const Progress &progress)
{
    const auto frame = openFrame(file);
    if (!frame)
        return frame.error();
    auto reading = whiteIn(*frame, sheetOf(state), progress);
    if (!reading)
        return reading.error();
    reading->image = row.path;
    auto asked = requestFor(state, row.id);
    asked.ask.parts = {};
    auto pass = passFrom(*reading, asked, progress);
    if (pass.calibrations.empty())
        return pass.fault.empty() ? unusable("{file}: gives no white balance", {{"file", file.string()}})
                                  : unusable(pass.fault);
    return pass;
}

Result<int> serveFrames(const ServeRequest &request, const Progress &progress)
{
    const auto store = JobStore::open(request.job);
    if (!store)
        return store.error();
    if ((*store)->isReadOnly())
        return unusable((*store)->readOnlyReason());
    auto state = (*store)->load();
    if (!state)
        return state.error();
    const auto source = PictureSource::of(Job(*state, request.job));
    RowId by = 0;
    JobChange whole;
    if (request.by != "auto") {
        const auto row = source.rowOf(request.by);
        if (!row)
            return row.error();
        by = (*row)->id;
        if (!state->readingOf(by)) {
            const auto grey = madeGrey(*state, source.fileOf(**row), **row, progress);
            if (!grey)
                return grey.error();
            apply(*state, *grey);
            whole = *grey;
        }
    }
    const Stations stations(*state);
    int count = 0;
    for (const auto &file : request.frames) {
        const auto row = source.rowOf(file);
        if (!row)
            return row.error();
        const auto frame = *state->frame((*row)->id);
        if (by && stations.of(by) != stations.of(frame.id))
            return unusable("{file}: is of another camera, lens or setup than {by}",
                            {{"file", file.string()}, {"by", request.by}});
        if (frame.servedBy == by || frame.id == by)
            continue;
        auto after = frame;
        after.servedBy = by;
        JobChange one;
        one.frames.push_back({frame, after});
        apply(*state, one);
        whole = merged(std::move(whole), one);
        ++count;
    }
    if (!whole.isEmpty())
        if (const auto done = (*store)->apply(whole); !done)
            return done.error();
    return count;
}

} // namespace wavechroma
