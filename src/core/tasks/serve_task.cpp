#include "core/tasks/serve_task.h"

#include "core/balance/balance.h"
#include "core/base/letters.h"
#include "core/color/temperature.h"
#include "core/fit/fit.h"
#include "core/formats/documents.h"
#include "core/formats/json_fields.h"
#include "core/formats/whole_file.h"
#include "core/jobstore/job_store.h"
#include "core/measure/flat_field.h"
#include "core/raw/open_frame.h"
#include "core/tasks/balance_task.h"
#include "core/tasks/camera_match.h"
#include "core/tasks/fit_task.h"
#include "core/tasks/job_task.h"
#include "core/tasks/picture_source.h"
#include "core/tasks/refusals.h"

#include <algorithm>
#include <tuple>

namespace wavechroma {

namespace {

/// A reading of what says white in a frame: the frame as a whole where it is an even field, a grey cube, or a
/// grey card.
Result<Reading> whiteIn(const RawFrame &frame, const ToleranceSheet &sheet, const Progress &progress)
{
    ReadRequest request;
    request.sheet = sheet;
    const std::vector<const char *> charts =
        looksFlat(frame) ? std::vector{"even-field"} : std::vector{"grey-cube", "grey-card"};
    for (const char *chart : charts) {
        request.chart = chart;
        auto reading = readFrame(frame, request, progress);
        if (!reading || reading->found)
            return reading;
    }
    return unusable(
        "{file}: shows no grey card or cube and is no even field, so that nothing in it says what "
        "white is",
        {{"file", frame.path}});
}

/// The frame becomes a grey of the job, read and fitted.
Result<JobChange> madeGrey(const ServeRequest &request, const JobState &state,
                           const std::filesystem::path &file, const JobFrame &row, const Progress &progress)
{
    const auto pass = whitePass(state, file, row, progress);
    if (!pass)
        return pass.error();
    if (!pass->doubt.empty() && !request.force)
        return unusable(pass->doubt);
    auto grey = row;
    grey.part = FramePart::Grey;
    grey.setAside = pass->isStopped;
    auto change = changeFor(state, row.id, *pass);
    if (!(grey == row))
        change.frames.push_back({row, grey});
    return change;
}

/// A calibration's row, of no frame.
JobCalibration broughtRow(const JobState &state, RowId id, const Calibration &calibration)
{
    auto row = jobCalibration(id, 0, calibration, false, nullptr);
    auto &brief = row.brief;
    brief.name = calibration.name;
    brief.lights = int(calibration.lights.size());
    brief.shotAt = calibration.camera.capturedAt;
    brief.iso = calibration.camera.iso;
    if (const auto &reference = calibration.asked.reference;
        !reference.empty() && isCameraReference(reference))
        brief.matchedTo = reference;
    for (const auto &source : calibration.madeFrom)
        for (const auto &frame : state.frames)
            if (calibration.lights.empty() && !source.sha256.empty() && frame.sha256 == source.sha256 &&
                frame.part == FramePart::Chart)
                brief.chart = frame.id;
    return row;
}

/// Do the frames' lights lie within those that were joined? By what the camera took for white.
Refusal outsideOfLights(const Calibration &joined, const FileColor &color, const std::string &file)
{
    constexpr double kRoom = 25; // mired
    const auto xy = color.asShotNeutral ? lightFromNeutral(color, *color.asShotNeutral) : std::nullopt;
    if (!xy)
        return std::nullopt;
    double least = 1e9, most = 0;
    for (const auto &light : joined.lights) {
        least = std::min(least, 1e6 / light.light.cctKelvin);
        most = std::max(most, 1e6 / light.light.cctKelvin);
    }
    const double kelvin = temperatureOf(*xy).cctKelvin, mired = 1e6 / kelvin;
    if (kelvin <= 0 || (mired >= least - kRoom && mired <= most + kRoom))
        return std::nullopt;
    return words::Phrase{
        "{file}: its camera took {own:K} for white, which lies outside of the joined lights ({cool:K} to "
        "{warm:K}).",
        {{"file", file}, {"own", kelvin}, {"cool", 1e6 / least}, {"warm", 1e6 / most}}};
}

/// A preset as a calibration, by the colours that the first of the frames says of itself.
Result<Calibration> calibrationOfPreset(const Balance &preset, const std::filesystem::path &file)
{
    const auto frame = openFrame(file);
    if (!frame)
        return frame.error();
    const auto m = preset.leaned.value_or(preset.multipliers);
    auto out = calibrationOfNeutral(preset.preset ? preset.preset->camera : frame->camera, frame->fileColor,
                                    {1 / m[0], 1, 1 / m[2]});
    if (!out)
        return unusable("{file}: {why}", {{"file", file.string()}, {"why", out.error().phrase}});
    if (preset.preset && preset.preset->asShotNeutral) // what its light is asked by
        out->fileColor.asShotNeutral = preset.preset->asShotNeutral;
    out->name = preset.preset ? preset.preset->name : "white balance alone";
    return out;
}

/// What an area of a frame says is white, as a calibration.
Result<Calibration> calibrationOfArea(const ServeRequest &request)
{
    const auto frame = openFrame(request.by);
    if (!frame)
        return frame.error();
    const auto balance = balanceFrameArea(*frame, *request.area);
    if (!balance)
        return balance.error();
    if (const auto other = refusedArea(*frame, *request.area); other && !request.force)
        return unusable(*other);
    const auto &m = balance->multipliers;
    auto out = calibrationOfNeutral(frame->camera, frame->fileColor, {1 / m[0], 1, 1 / m[2]});
    if (!out)
        return unusable("{file}: {why}", {{"file", request.by}, {"why", out.error().phrase}});
    out->name = "white of " + std::filesystem::path(request.by).stem().string();
    return out;
}

/// The calibration of a document: itself, or what a preset makes of the first frame's own colours.
Result<Calibration> calibrationOfDocument(const std::string &file, const std::filesystem::path &first)
{
    const auto text = readText(file);
    const auto kind = text ? json::parse(*text, file) : Result<json::Json>(text.error());
    if (!kind)
        return kind.error();
    const auto preset = json::kindOf(*kind) == "balance" ? loadBalance(file) : Result<Balance>(unusable(""));
    return preset ? calibrationOfPreset(*preset, first) : loadCalibration(file);
}

/// The calibration that is meant; nothing where it is the rule, or a frame.
Result<std::optional<Calibration>> broughtBy(const ServeRequest &request, const JobState &state,
                                             const PictureSource &source, const std::vector<RowId> &frames)
{
    if (request.by == "auto" || frames.empty())
        return std::optional<Calibration>();
    for (const auto &row : state.calibrations)
        if (row.frame == 0 && row.brief.name == request.by && !row.calibration.fault())
            return std::optional(*row.calibration);
    const bool isDocument = letters::lower(std::filesystem::path(request.by).extension().string()) == ".json";
    if (!isDocument && !request.area)
        return std::optional<Calibration>(); // a frame, then
    const auto calibration =
        request.area ? calibrationOfArea(request)
                     : calibrationOfDocument(request.by, source.fileOf(*state.frame(frames.front())));
    if (!calibration)
        return calibration.error();
    for (const auto id : frames) {
        const auto doubt = doubtedCalibration(*calibration, source.fileOf(*state.frame(id)));
        if (!doubt)
            return doubt.error();
        if (*doubt && !request.force)
            return unusable(**doubt);
    }
    return std::optional(*calibration);
}

/// The change that serves frames by a chart or grey of the job, or by the rule again.
Result<JobChange> servedByFrame(const ServeRequest &request, JobState state, const PictureSource &source,
                                const std::vector<RowId> &frames, const Progress &progress)
{
    RowId by = 0;
    JobChange whole;
    if (request.by != "auto") {
        const auto row = source.rowOf(request.by);
        if (!row)
            return row.error();
        by = (*row)->id;
        if (!state.readingOf(by)) {
            const auto grey = madeGrey(request, state, source.fileOf(**row), **row, progress);
            if (!grey)
                return grey.error();
            apply(state, *grey);
            whole = *grey;
        }
    }
    const Stations stations(state);
    for (const auto id : frames) {
        const auto frame = *state.frame(id);
        if (by && stations.of(by) != stations.of(id))
            return unusable("{file}: is of another camera, lens or setup than {by}",
                            {{"file", source.fileOf(frame).string()}, {"by", request.by}});
        if ((frame.servedBy == by && !frame.calibration) || id == by)
            continue;
        auto after = frame;
        after.servedBy = by;
        after.calibration = 0;
        JobChange one;
        one.frames.push_back({frame, after});
        apply(state, one);
        whole = merged(std::move(whole), one);
    }
    return whole;
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
    if (pass.balance)
        pass.doubt = refusedWhite(*pass.balance, reading->fileColor).value_or(words::Phrase{});
    return pass;
}

Result<Refusal> doubtedCalibration(const Calibration &calibration, const std::filesystem::path &file)
{
    const auto frame = openFrame(file);
    if (!frame)
        return frame.error();
    if (auto other = refusedStation(calibration, frame->camera, file.string()))
        return other;
    return calibration.lights.empty() ? doubtedLight(calibration, frame->fileColor, file.string())
                                      : outsideOfLights(calibration, frame->fileColor, file.string());
}

JobChange servedByCalibration(const JobState &state, const std::vector<RowId> &frames,
                              const Calibration &calibration)
{
    JobChange out;
    const auto text = documentOf(calibration);
    const auto known =
        std::find_if(state.calibrations.begin(), state.calibrations.end(), [&](const auto &row) {
            return row.frame == 0 && !row.calibration.fault() && documentOf(*row.calibration) == text;
        });
    const auto id = known == state.calibrations.end() ? nextId(state) : known->id;
    if (known == state.calibrations.end())
        out.calibrations.push_back({std::nullopt, broughtRow(state, id, calibration)});
    for (const auto frame : frames) {
        const auto &row = *state.frame(frame);
        auto after = row;
        after.calibration = id;
        if (!(after == row))
            out.frames.push_back({row, after});
    }
    return out;
}

Result<int> serveFrames(const ServeRequest &request, const Progress &progress)
{
    const auto store = JobStore::open(request.job);
    if (!store)
        return store.error();
    if ((*store)->isReadOnly())
        return unusable((*store)->readOnlyReason());
    const auto state = (*store)->load();
    if (!state)
        return state.error();
    const auto source = PictureSource::of(Job(*state, request.job));
    std::vector<RowId> frames;
    for (const auto &file : request.frames) {
        const auto row = source.rowOf(file);
        if (!row)
            return row.error();
        frames.push_back((*row)->id);
    }
    const auto brought = broughtBy(request, *state, source, frames);
    if (!brought)
        return brought.error();
    const auto change = *brought ? Result<JobChange>(servedByCalibration(*state, frames, **brought))
                                 : servedByFrame(request, *state, source, frames, progress);
    if (!change)
        return change.error();
    if (!change->isEmpty())
        if (const auto done = (*store)->apply(*change); !done)
            return done.error();
    return int(std::count_if(change->frames.begin(), change->frames.end(), [](const auto &row) {
        return row.before && row.after &&
               std::tie(row.before->servedBy, row.before->calibration) !=
                   std::tie(row.after->servedBy, row.after->calibration);
    }));
}

} // namespace wavechroma
