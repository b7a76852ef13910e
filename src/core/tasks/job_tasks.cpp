#include "core/tasks/job_tasks.h"

#include "core/measure/flat_field.h"

#include <algorithm>
#include <map>

namespace wavechroma {

namespace {

std::string stopReason(const Reading &reading)
{
    for (const auto &check : reading.checks)
        if (check.severity == Severity::Stop)
            return check.message;
    return {};
}

void addRows(JobChange &change, RowId frame, RowId &next, const StationPass &pass)
{
    change.readings.push_back({std::nullopt, JobReading{next++, frame, pass.reading}});
    for (const auto &calibration : pass.calibrations)
        change.calibrations.push_back({std::nullopt, JobCalibration{next++, frame, calibration}});
}

Result<std::vector<Calibration>> fitOnly(const Reading &reading, const FitRequest &request)
{
    const auto one = fitReading(reading, request);
    if (!one)
        return one.error();
    return std::vector{*one};
}

} // namespace

StationPass passFrom(const Reading &reading, const FitRequest &request)
{
    StationPass pass;
    pass.reading = reading;
    pass.stoppedBecause = stopReason(reading);
    if (!reading.found)
        return pass;
    if (const auto balance = balanceReading(reading, {}))
        pass.balance = *balance;
    const auto calibrations = request.preview ? fitOnly(reading, request) : fitAllOf(reading, request);
    if (!calibrations) {
        if (pass.stoppedBecause.empty())
            pass.stoppedBecause = calibrations.error().message;
        return pass;
    }
    pass.calibrations = *calibrations;
    const auto &model = request.model == kRecommended && !pass.calibrations.empty()
                            ? pass.calibrations[recommendationOf(pass.calibrations, reading).index].model
                            : request.model;
    for (const auto &calibration : pass.calibrations)
        if (calibration.model == model)
            if (const auto proof = proveReading(calibration, reading, request.reference))
                pass.proof = *proof;
    return pass;
}

std::string modelFor(const JobState &state, RowId frame)
{
    if (state.title.chosenModel != kRecommended)
        return state.title.chosenModel;
    const auto *reading = state.readingOf(frame);
    std::vector<const Calibration *> calibrations;
    for (const auto &model : knownModels())
        if (const auto *row = state.calibrationOf(frame, model))
            calibrations.push_back(&row->calibration);
    return reading && !calibrations.empty()
               ? calibrations[recommendationOf(calibrations, reading->reading).index]->model
               : "matrix";
}

std::vector<std::string> flatsOf(const JobState &state, RowId setup, const CameraFacts &camera)
{
    std::vector<const JobFrame *> flats;
    for (const auto &frame : state.frames)
        if (frame.part == FramePart::Flat && !frame.setAside && frame.setup == setup &&
            samePair(frame.camera, camera))
            flats.push_back(&frame);
    std::stable_sort(flats.begin(), flats.end(), [](const auto *a, const auto *b) {
        return a->camera.capturedAt > b->camera.capturedAt;
    });
    std::vector<std::string> out;
    for (const auto *flat : flats)
        if (flat->camera.fNumber == flats.front()->camera.fNumber)
            out.push_back(flat->path);
    return out;
}

std::vector<ChartDefinition> chartsOf(const JobState &state)
{
    auto charts = chartCatalogue();
    for (const auto &row : state.charts) {
        if (!row.inUse)
            continue;
        const auto at = std::find_if(charts.begin(), charts.end(),
                                     [&](const auto &chart) { return chart.id == row.definition.id; });
        if (at == charts.end())
            charts.push_back(row.definition);
        else
            *at = row.definition;
    }
    return charts;
}

ToleranceSheet sheetOf(const JobState &state)
{
    if (state.title.tolerance.empty())
        return {};
    const auto sheet = toleranceFrom(state.title.tolerance, "tolerance sheet");
    return sheet ? *sheet : ToleranceSheet{};
}

RowId setupAt(const JobState &state, const CameraFacts &camera)
{
    if (state.setups.empty())
        return 0;
    // Bodies' clocks differ, so a body is only compared with itself.
    std::map<RowId, std::string> begun;
    for (const auto &frame : state.frames) {
        const auto &c = frame.camera;
        if (c.make != camera.make || c.model != camera.model || c.serial != camera.serial ||
            c.capturedAt.empty())
            continue;
        auto &first = begun[frame.setup];
        if (first.empty() || c.capturedAt < first)
            first = c.capturedAt;
    }
    const auto latest = std::max_element(begun.begin(), begun.end(),
                                         [](const auto &a, const auto &b) { return a.second < b.second; });
    if (camera.capturedAt.empty() || latest == begun.end() || camera.capturedAt >= latest->second)
        return state.setups.back().id;
    for (auto setup = state.setups.rbegin(); setup != state.setups.rend(); ++setup)
        if (const auto at = begun.find(setup->id); at != begun.end() && at->second <= camera.capturedAt)
            return setup->id;
    return std::min_element(begun.begin(), begun.end(),
                            [](const auto &a, const auto &b) { return a.second < b.second; })
        ->first;
}

Surroundings surroundingsOf(const JobState &state, const std::filesystem::path &folder, RowId setup)
{
    Surroundings around{folder, {}, setup, chartsOf(state), sheetOf(state)};
    around.few.setups = state.setups;
    around.few.frames = state.frames;
    return around;
}

Result<Reading> readWithFlats(const Surroundings &job, const RawFrame &frame,
                              const std::vector<std::string> &flats, const Progress &progress,
                              std::string *warning)
{
    ReadRequest request;
    request.charts = job.charts;
    request.sheet = job.sheet;
    if (flats.empty())
        return readFrame(frame, request, progress);
    const auto evened = [&](const std::vector<std::string> &some, std::string *why) {
        std::vector<std::filesystem::path> files;
        for (const auto &flat : some)
            files.push_back(job.folder / flat);
        auto even = withFlats(frame, files, why);
        if (!even && why)
            *why = even.error().message;
        return even;
    };
    // Flats that cannot serve this frame are no reason to refuse it: it is read with those that can, or
    // without.
    auto used = flats;
    auto even = evened(used, warning);
    if (!even) {
        std::erase_if(used, [&](const std::string &flat) { return !evened({flat}, nullptr); });
        if (!used.empty())
            even = evened(used, nullptr);
    }
    auto reading = readFrame(even ? *even : frame, request, progress);
    if (reading)
        reading->flats = even ? used : std::vector<std::string>();
    return reading;
}

Result<TakenFrame> takeFrame(const Surroundings &job, const std::filesystem::path &file,
                             const Progress &progress)
{
    progress.at(0, "opening " + file.filename().string());
    const auto frame = openFrame(file);
    if (!frame)
        return frame.error();
    if (progress.stopped())
        return unusable(file.string() + ": stopped");
    const auto hash = sha256OfFile(file, progress);
    if (!hash)
        return hash.error();
    TakenFrame taken;
    taken.frame.path = JobStore::keptPath(job.folder, file);
    taken.frame.sha256 = *hash;
    taken.frame.camera = frame->camera;
    taken.frame.width = frame->width;
    taken.frame.height = frame->height;
    taken.frame.orientation = frame->orientation;
    progress.at(0.5, "looking for a chart in " + file.filename().string());
    taken.frame.setup = job.setup ? job.setup : setupAt(job.few, frame->camera);
    auto reading = readWithFlats(job, *frame, flatsOf(job.few, taken.frame.setup, frame->camera), progress,
                                 &taken.warning);
    if (!reading)
        return reading.error();
    taken.frame.part = reading->found      ? FramePart::Chart
                       : looksFlat(*frame) ? FramePart::Flat
                                           : FramePart::Product;
    if (taken.frame.part == FramePart::Flat)
        if (const auto verdict = verdictOnFlat(*frame); !verdict.serves)
            taken.warning = verdict.words;
    if (!reading->found)
        return taken;
    reading->image = taken.frame.path;
    progress.at(0.8, "fitting " + file.filename().string());
    FitRequest request;
    request.model = kRecommended;
    for (const auto &setup : job.few.setups)
        if (setup.id == taken.frame.setup)
            request.setup = setup.title;
    request.sha256 = *hash;
    taken.pass = passFrom(*reading, request);
    taken.frame.setAside = !taken.pass->stoppedBecause.empty();
    return taken;
}

JobChange changeFor(const JobState &state, const std::vector<TakenFrame> &frames)
{
    JobChange change;
    RowId next = nextId(state);
    for (const auto &taken : frames) {
        JobFrame frame = taken.frame;
        frame.id = next++;
        change.frames.push_back({std::nullopt, frame});
        if (taken.pass)
            addRows(change, frame.id, next, *taken.pass);
    }
    return change;
}

JobChange changeFor(const JobState &state, RowId frame, const StationPass &pass)
{
    JobChange change;
    RowId next = nextId(state);
    // A row that stays keeps its id, so that a drag can be merged into one step.
    const auto *old = state.readingOf(frame);
    if (old)
        change.readings.push_back({*old, JobReading{old->id, frame, pass.reading}});
    else
        change.readings.push_back({std::nullopt, JobReading{next++, frame, pass.reading}});
    for (const auto &model : knownModels()) {
        const auto *before = state.calibrationOf(frame, model);
        const auto after = std::find_if(pass.calibrations.begin(), pass.calibrations.end(),
                                        [&](const auto &c) { return c.model == model; });
        RowChange<JobCalibration> row;
        if (before)
            row.before = *before;
        if (after != pass.calibrations.end())
            row.after = JobCalibration{before ? before->id : next++, frame, *after};
        if (row.before || row.after)
            change.calibrations.push_back(row);
    }
    return change;
}

} // namespace wavechroma
