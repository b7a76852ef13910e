#include "core/tasks/job_task.h"

#include "core/base/capture_clock.h"
#include "core/base/letters.h"
#include "core/base/said.h"
#include "core/capture/set_look.h"
#include "core/measure/flat_field.h"
#include "core/raw/file_digest.h"
#include "core/raw/open_frame.h"
#include "core/tasks/first_look.h"
#include "core/tasks/prove_task.h"
#include "core/tasks/reference_task.h"
#include "core/tasks/refusals.h"
#include "core/tasks/release.h"

#include <algorithm>
#include <cctype>
#include <future>
#include <map>
#include <set>
#include <system_error>

namespace wavechroma {

namespace fs = std::filesystem;

namespace {

JobCalibration rowOf(RowId id, RowId frame, const StationPass &pass, size_t i)
{
    auto row = jobCalibration(id, frame, pass.calibrations[i], i == pass.recommended, &pass.proofs[i]);
    row.brief.isSound = mayBeRecommended(pass.calibrations[i], pass.reading);
    return row;
}

void addRows(JobChange &change, RowId frame, RowId &next, const StationPass &pass)
{
    change.readings.push_back({std::nullopt, jobReading(next++, frame, pass.reading)});
    for (size_t i = 0; i < pass.calibrations.size(); ++i)
        change.calibrations.push_back({std::nullopt, rowOf(next++, frame, pass, i)});
}

Result<std::vector<Calibration>> fitOnly(const Reading &reading, const FitRequest &request,
                                         const Progress &progress)
{
    const auto one = fitReading(reading, request, progress);
    if (!one)
        return one.error();
    return std::vector{*one};
}

size_t recommendedIn(const StationPass &pass)
{
    std::vector<const Calibration *> all;
    for (const auto &calibration : pass.calibrations)
        all.push_back(&calibration);
    return recommendedAmong(all, {}, pass.reading).index;
}

} // namespace

/// Mean ΔE2000 of every crossing from which the references themselves are looked at.
static constexpr double kFarOff = 4;

StationPass passFrom(const Reading &reading, const FitRequest &request, const Progress &progress)
{
    StationPass pass;
    pass.reading = reading;
    pass.isStopped = reading.worst() == Severity::Stop;
    if (!reading.found)
        return pass;
    if (const auto balance = balanceReading(reading, {}))
        pass.balance = *balance;
    auto calibrations =
        request.preview ? fitOnly(reading, request, progress) : fitPlaneOf(reading, request, progress);
    if (!calibrations) {
        pass.isStopped = true;
        pass.fault = calibrations.error().phrase;
        return pass;
    }
    for (auto &calibration : *calibrations) {
        const auto proof = proveReading(calibration, reading, request.ask.reference);
        pass.proofs.push_back(proof ? *proof : Proof{});
        pass.calibrations.push_back(std::move(calibration));
    }
    if (!pass.calibrations.empty())
        pass.recommended = recommendedIn(pass);
    if (!request.ask.things.empty() && !request.preview)
        for (size_t i = 0; i < pass.calibrations.size() && !progress.stopped(); ++i)
            if (auto &one = pass.calibrations[i]; i == pass.recommended || one.parts == request.ask.parts)
                one.things = judgedThings(one, reading, request);
    const bool isFarOff = std::all_of(pass.calibrations.begin(), pass.calibrations.end(),
                                      [](const Calibration &c) { return c.fit.mean > kFarOff; });
    if (isFarOff && !request.preview && !pass.isStopped)
        if (const auto chart = referencesOf(reading, request.ask.reference))
            pass.doubt = refusedReferences(reading, *chart).value_or(words::Phrase{});
    if (pass.doubt.empty() && !pass.calibrations.empty())
        pass.doubt =
            refusedLightTaken(pass.calibrations[pass.recommended], reading).value_or(words::Phrase{});
    return pass;
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

std::vector<ChartDefinition> layoutsOf(const JobState &state)
{
    std::vector<ChartDefinition> out;
    for (const auto &row : state.charts)
        if (row.inUse && (!row.definition.colorsKnown || hasDemoValues(row.definition)))
            out.push_back(withoutValues(row.definition));
    return out;
}

RowId setupAt(const JobState &state, const CameraFacts &camera)
{
    if (state.setups.empty())
        return 0;
    // Bodies' clocks differ, so a body is only compared with itself.
    const auto isOfBody = [&](const CameraFacts &c) {
        return c.make == camera.make && c.model == camera.model && c.serial == camera.serial &&
               !c.capturedAt.empty();
    };
    CaptureClock clock;
    clock.add(camera.capturedAt);
    for (const auto &frame : state.frames)
        if (isOfBody(frame.camera))
            clock.add(frame.camera.capturedAt);
    std::map<RowId, double> begun;
    for (const auto &frame : state.frames)
        if (isOfBody(frame.camera)) {
            const double at = clock.at(frame.camera.capturedAt);
            const auto first = begun.try_emplace(frame.setup, at).first;
            first->second = std::min(first->second, at);
        }
    const auto isEarlier = [](const auto &a, const auto &b) { return a.second < b.second; };
    const auto latest = std::max_element(begun.begin(), begun.end(), isEarlier);
    const double now = clock.at(camera.capturedAt);
    if (camera.capturedAt.empty() || latest == begun.end() || now >= latest->second)
        return state.setups.back().id;
    for (auto setup = state.setups.rbegin(); setup != state.setups.rend(); ++setup)
        if (const auto at = begun.find(setup->id); at != begun.end() && at->second <= now)
            return setup->id;
    return std::min_element(begun.begin(), begun.end(), isEarlier)->first;
}

Surroundings surroundingsOf(const JobState &state, const std::filesystem::path &folder, RowId setup)
{
    Surroundings around{folder, {}, setup, chartsOf(state), layoutsOf(state), sheetOf(state)};
    around.few.setups = state.setups;
    around.few.frames = state.frames;
    return around;
}

/// What a flat may add to the unevenness of a chart by its own noise.
static constexpr double kLessEven = 0.03;

/// From the darkest to the lightest side of the chart, as a share; 0 where it is not known.
static double unevennessOf(const Reading &reading)
{
    for (const auto &check : reading.checks)
        if (check.id == CheckId::Evenness)
            return check.value;
    return 0;
}

Result<Reading> readWithFlats(const Surroundings &job, const RawFrame &frame,
                              const std::vector<std::string> &flats, const Progress &progress,
                              words::Phrase *warning)
{
    ReadRequest request;
    request.charts = job.charts;
    request.layouts = job.layouts;
    request.sheet = job.sheet;
    if (flats.empty())
        return readFrame(frame, request, progress);
    const auto evened = [&](const std::vector<std::string> &some, words::Phrase *why) {
        std::vector<std::filesystem::path> files;
        for (const auto &flat : some)
            files.push_back(job.folder / flat);
        auto even = withFlats(frame, files, why);
        if (!even && why)
            *why = even.error().phrase;
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
    if (!reading || !even)
        return reading;
    // one that was shot through a diffuser, or under another light, lays its own falloff over the chart
    if (reading->found)
        if (auto plain = readFrame(frame, request, progress);
            plain && plain->found && unevennessOf(*reading) > unevennessOf(*plain) + kLessEven) {
            if (warning)
                *warning = {
                    words::said("{file}: the light on the chart is less even by the flat {flat}, which is "
                                "not used"),
                    {{"file", frame.path}, {"flat", used.front()}}};
            return plain;
        }
    reading->flats = used;
    return reading;
}

static std::optional<Reading> fieldIn(const RawFrame &frame, const std::string &path,
                                      const ToleranceSheet &sheet, const Progress &progress)
{
    ReadRequest request;
    request.chart = "even-field";
    request.sheet = sheet;
    auto reading = readFrame(frame, request, progress);
    if (!reading || !reading->found)
        return std::nullopt;
    reading->image = path;
    return std::move(*reading);
}

Result<HashedFrame> openHashed(const fs::path &file, const Progress &progress)
{
    auto hashing = std::async(std::launch::async, [&] {
        return sha256OfFile(file, {{}, progress.cancelled});
    });
    auto frame = openFrame(file);
    auto hash = hashing.get();
    if (!frame)
        return frame.error();
    if (progress.stopped())
        return unusable("{file}: stopped", {{"file", file.string()}});
    if (!hash)
        return hash.error();
    return HashedFrame{std::move(*frame), std::move(*hash)};
}

Result<FirstLook> firstLook(const Surroundings &job, const fs::path &file, const HashedFrame &opened,
                            const std::vector<std::string> &flats, const Progress &progress)
{
    const auto &frame = opened.frame;
    FirstLook look;
    auto &row = look.taken.frame;
    row.path = JobStore::keptPath(job.folder, file);
    row.sha256 = opened.sha256;
    row.camera = frame.camera;
    row.width = frame.width;
    row.height = frame.height;
    row.orientation = frame.orientation;
    row.look = setLookOf(frame);
    if (!frame.assumedSpace.empty())
        look.taken.warning = {words::said("{file}: has no profile and is read as {space}."),
                              {{"file", file.filename().string()}, {"space", frame.assumedSpace}}};
    progress.at(0.5, {"looking for a chart in {file}", {{"file", file.filename().string()}}});
    auto reading = readWithFlats(job, frame, flats, progress.part(0.5, 0.8), &look.taken.warning);
    if (!reading)
        return reading.error();
    row.part = reading->found ? FramePart::Chart : looksFlat(frame) ? FramePart::Flat : FramePart::Product;
    if (row.part == FramePart::Flat) {
        look.taken.flat = verdictOnFlat(frame);
        look.field = fieldIn(frame, row.path, job.sheet, progress.part(0.7, 0.8));
    }
    if (!reading->found)
        return look;
    reading->image = row.path;
    look.reading = std::move(*reading);
    return look;
}

/// The pass of an even field, a disc before the lens or a board: nothing where it is the colour of a thing,
/// or a check says stop.
static std::optional<StationPass> passOfField(const Reading &field, const FitRequest &request)
{
    auto pass = passFrom(field, request);
    const bool saysWhite = !pass.isStopped && pass.balance && !refusedWhite(*pass.balance, field.fileColor);
    return saysWhite ? std::optional(std::move(pass)) : std::nullopt;
}

TakenFrame fitted(FirstLook look, const std::string &setup, const Progress &progress)
{
    FitRequest request;
    request.ask.setup = setup;
    request.sha256 = look.taken.frame.sha256;
    if (look.field)
        look.taken.pass = passOfField(*look.field, request);
    if (!look.reading)
        return std::move(look.taken);
    progress.at(0.8, {"fitting {file}", {{"file", fs::path(look.taken.frame.path).filename().string()}}});
    look.taken.pass = passFrom(*look.reading, request, progress.part(0.8, 1));
    if (look.taken.warning.empty())
        look.taken.warning = look.taken.pass->doubt;
    look.taken.frame.setAside = look.taken.pass->isStopped;
    return std::move(look.taken);
}

std::string setupTitle(const JobState &state, RowId setup)
{
    for (const auto &row : state.setups)
        if (row.id == setup)
            return row.title;
    return {};
}

/// A frame of a later day than any other of its setup: the lamps may be others by now.
static words::Phrase otherDay(const JobState &few, const JobFrame &frame)
{
    std::string last;
    for (const auto &other : few.frames)
        if (other.setup == frame.setup)
            last = std::max(last, other.camera.capturedAt.substr(0, 10));
    const auto day = frame.camera.capturedAt.substr(0, 10);
    if (last.empty() || day <= last)
        return {};
    return {
        words::said(
            "{file}: was shot on {day}, the last frame of {setup} on {last}. Is it still the same light?"),
        {{"file", fs::path(frame.path).filename().string()},
         {"day", day},
         {"setup", setupTitle(few, frame.setup)},
         {"last", last}}};
}

Result<TakenFrame> takeFrame(const Surroundings &job, const fs::path &file, const Progress &progress)
{
    progress.at(0, {"opening {file}", {{"file", file.filename().string()}}});
    const auto opened = openHashed(file, progress);
    if (!opened)
        return opened.error();
    const auto &camera = opened->frame.camera;
    const RowId setup = job.setup ? job.setup : setupAt(job.few, camera);
    auto look = firstLook(job, file, *opened, flatsOf(job.few, setup, camera), progress);
    if (!look)
        return look.error();
    look->taken.frame.setup = setup;
    auto taken = fitted(std::move(*look), setupTitle(job.few, setup), progress);
    if (taken.warning.empty())
        taken.warning = otherDay(job.few, taken.frame);
    if (progress.stopped())
        return unusable("{file}: stopped", {{"file", file.string()}});
    return taken;
}

/// The newest row of that path: its file is another one by now, where it is taken again.
static const JobFrame *rowAt(const JobState &state, const std::string &path)
{
    const auto at = std::find_if(state.frames.rbegin(), state.frames.rend(),
                                 [&](const JobFrame &frame) { return frame.path == path; });
    return at == state.frames.rend() ? nullptr : &*at;
}

/// What was made of the file that was there goes. Its probes stay: they are places on the picture.
static void replaceRows(JobChange &change, const JobState &state, const JobFrame &frame)
{
    if (const auto *reading = state.readingOf(frame.id))
        change.readings.push_back({*reading, std::nullopt});
    for (const auto *row : state.calibrationsOf(frame.id))
        change.calibrations.push_back({*row, std::nullopt});
}

JobChange changeFor(const JobState &state, const std::vector<TakenFrame> &frames)
{
    std::vector<JobFrame> rows;
    std::vector<JobFrame *> all;
    for (const auto &taken : frames)
        rows.push_back(taken.frame);
    for (auto &row : rows)
        all.push_back(&row);
    auto [isPicture, known, change] = pairReleases(state, all);
    RowId next = nextId(state);
    for (size_t i = 0; i < frames.size(); ++i) {
        if (isPicture[i])
            continue;
        const auto &taken = frames[i];
        JobFrame frame = rows[i];
        const auto *before = rowAt(state, frame.path);
        if (before) {
            replaceRows(change, state, *before);
            frame.id = before->id;
            frame.setup = before->setup;
            change.frames.push_back({*before, frame});
        } else {
            frame.id = next++;
            change.frames.push_back({std::nullopt, frame});
        }
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
        change.readings.push_back({*old, jobReading(old->id, frame, pass.reading)});
    else
        change.readings.push_back({std::nullopt, jobReading(next++, frame, pass.reading)});
    // One that has no successor goes: its parts are not in the new pass.
    std::map<Parts, const JobCalibration *> before;
    for (const auto *row : state.calibrationsOf(frame))
        before[row->brief.parts] = row;
    for (size_t i = 0; i < pass.calibrations.size(); ++i) {
        const auto &calibration = pass.calibrations[i];
        const auto known = before.find(calibration.parts);
        RowChange<JobCalibration> row;
        if (known != before.end())
            row.before = *known->second;
        row.after = rowOf(row.before ? row.before->id : next++, frame, pass, i);
        change.calibrations.push_back(row);
        before.erase(calibration.parts);
    }
    for (const auto &[parts, row] : before)
        change.calibrations.push_back({*row, std::nullopt});
    return change;
}

/// Readings that were merged into a calibration, as they are now: one that was read as another chart since is
/// left out.
static std::vector<FitRequest::Other> othersOf(const JobState &state, const Calibration &made)
{
    std::vector<FitRequest::Other> out;
    for (const auto &source : made.asked.with)
        for (const auto &row : state.readings)
            if (row.brief.image == source.image && row.brief.found && row.brief.chart == made.chart &&
                !row.reading.fault())
                out.push_back({*row.reading, source.sha256});
    return out;
}

FitRequest requestFor(const JobState &state, RowId frame)
{
    FitRequest request;
    const auto *row = state.frame(frame);
    if (!row)
        return request;
    if (const auto *made = state.calibrationOf(frame, partsFor(state, frame));
        made && !made->calibration.fault()) {
        request = requestOf(*made->calibration);
        request.with = othersOf(state, *made->calibration);
    }
    request.ask.parts = state.title.parts;
    request.ask.setup = setupTitle(state, row->setup);
    request.sha256 = row->sha256;
    return request;
}

/// Frame files of a folder and of those in it.
static std::vector<fs::path> framesBelow(const fs::path &folder)
{
    std::vector<fs::path> folders{folder};
    std::error_code code;
    for (fs::recursive_directory_iterator at(folder, fs::directory_options::skip_permission_denied, code),
         end;
         !code && at != end; at.increment(code))
        if (at->is_directory(code))
            folders.push_back(at->path());
    return framesIn(folders);
}

Result<JobChange> foundAgain(const JobState &state, const fs::path &job, const fs::path &folder,
                             const Progress &progress)
{
    std::map<std::string, std::vector<const JobFrame *>> gone; // by hash
    std::set<std::string> names;
    std::error_code code;
    for (const auto &frame : state.frames) {
        const fs::path kept = frame.path;
        if (frame.sha256.empty() || fs::exists(kept.is_absolute() ? kept : job / kept, code))
            continue;
        gone[frame.sha256].push_back(&frame);
        names.insert(kept.filename().string());
    }
    auto files = framesBelow(folder);
    std::stable_partition(files.begin(), files.end(),
                          [&](const fs::path &file) { return names.count(file.filename().string()) > 0; });
    JobChange change;
    for (size_t i = 0; i < files.size() && !gone.empty(); ++i) {
        if (progress.stopped())
            return unusable("{file}: stopped", {{"file", folder.string()}});
        progress.at(double(i) / double(files.size()),
                    {"looking at {file}", {{"file", files[i].filename().string()}}});
        const auto hash = sha256OfFile(files[i]);
        const auto at = hash ? gone.find(*hash) : gone.end();
        if (at == gone.end())
            continue;
        for (const auto *frame : at->second) {
            auto moved = *frame;
            moved.path = JobStore::keptPath(job, files[i]);
            change.frames.push_back({*frame, moved});
        }
        gone.erase(at);
    }
    return change;
}

std::vector<fs::path> framesIn(const std::vector<fs::path> &paths)
{
    // Only for what a folder holds: a file that is named is tried whatever it is called.
    static const std::set<std::string> kKinds{".dng", ".tif", ".tiff", ".png", ".jpg", ".jpeg", ".nef",
                                              ".cr2", ".cr3", ".arw",  ".raf", ".orf", ".rw2",  ".pef",
                                              ".iiq", ".3fr", ".fff",  ".srw", ".x3f"};
    std::vector<fs::path> out;
    for (const auto &path : paths) {
        std::error_code code;
        if (!fs::is_directory(path, code)) {
            out.push_back(path);
            continue;
        }
        std::vector<fs::path> inside;
        for (fs::directory_iterator at(path, code), end; !code && at != end; at.increment(code)) {
            const auto kind = letters::lower(at->path().extension().string());
            if (kKinds.count(kind) && at->is_regular_file(code))
                inside.push_back(at->path());
        }
        std::sort(inside.begin(), inside.end());
        out.insert(out.end(), inside.begin(), inside.end());
    }
    return out;
}

bool holdsJob(const std::filesystem::path &folder)
{
    return JobStore::holdsJob(folder);
}

std::string keptPath(const std::filesystem::path &folder, const std::filesystem::path &file)
{
    return JobStore::keptPath(folder, file);
}

} // namespace wavechroma
