#include "core/tasks/render_task.h"

#include "core/base/statistics.h"
#include "core/capture/compare_frames.h"
#include "core/capture/scale.h"
#include "core/jobstore/job_store.h"
#include "core/tasks/balance_task.h"
#include "core/tasks/fit_task.h"
#include "core/tasks/job_task.h"
#include "core/tasks/read_task.h"
#include "core/tasks/reference_task.h"
#include "core/tasks/refusals.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <set>

namespace wavechroma {

namespace fs = std::filesystem;

namespace {

Vector3 multipliersOf(const Balance &balance)
{
    return balance.leaned.value_or(balance.multipliers);
}

/// Do lamps, as people write them, fire rather than burn? Exposure times then say nothing of the light.
bool areFlashes(std::string lamps)
{
    std::transform(lamps.begin(), lamps.end(), lamps.begin(),
                   [](unsigned char c) { return char(std::tolower(c)); });
    return lamps.find("flash") != lamps.npos || lamps.find("strobe") != lamps.npos;
}

/// The job's row of a file: by its path, else by its bytes.
Result<const JobFrame *> rowOf(const JobState &state, const fs::path &folder, const fs::path &image)
{
    std::error_code code;
    for (const auto &frame : state.frames)
        if (fs::equivalent(folder / frame.path, image, code))
            return &frame;
    const auto hash = sha256OfFile(image);
    if (!hash)
        return hash.error();
    for (const auto &frame : state.frames)
        if (frame.sha256 == *hash)
            return &frame;
    return unusable("{file}: is not a frame of the job {job}",
                    {{"file", image.string()}, {"job", folder.string()}});
}

double pixelsPerInchOf(const Reading &reading)
{
    const auto chart = chartOf(reading);
    const auto scale = chart ? scaleOf(reading, *chart) : std::nullopt;
    return scale ? scale->pixelsPerInch() : 0;
}

/// How many times as bright a frame was taken as its serving chart.
std::optional<double> exposureAgainstChart(const CameraFacts &frame, CameraFacts chart, bool isFlash)
{
    CameraFacts own = frame;
    if (isFlash)
        own.exposureSeconds = chart.exposureSeconds = 1;
    const auto stops = settingStops(own, chart);
    return stops ? std::optional(std::exp2(*stops)) : std::nullopt;
}

/// Neutral of a frame's light, camera RGB with green 1: a calibration of several lights asks for it.
std::optional<Vector3> neutralOf(const RawFrame &frame, const std::optional<Balance> &balance)
{
    if (!balance)
        return frame.fileColor.asShotNeutral;
    const auto m = multipliersOf(*balance);
    return Vector3{1 / m[0], 1 / m[1], 1 / m[2]};
}

double edgeSpreadOf(const Reading &reading)
{
    for (const auto &check : reading.checks)
        if (check.id == "focus" && check.finding != "too-small")
            return check.value;
    return 0;
}

/// Of a camera with a lens, whatever the light: from all charts that it was seen on in the job.
double distortionOf(const JobState &state, const CameraFacts &camera)
{
    std::vector<double> all;
    for (const auto &reading : state.readings)
        if (const auto *frame = state.frame(reading.frame);
            frame && !frame->setAside && samePair(frame->camera, camera) && reading.brief.found)
            all.push_back(reading.reading->distortion);
    return all.empty() ? 0 : medianOf(all);
}

Result<RawFrame> evened(const RawFrame &frame, const RenderSource::Serves &serves, RenderedPicture &out)
{
    if (serves.flats.empty()) {
        if (!serves.calibration.flats.empty())
            out.remarks.push_back(
                {"{file}: the calibration was read with a flat, and none is given: the light's "
                 "falloff stays in the picture",
                 {{"file", frame.path}}});
        return frame;
    }
    words::Phrase warning;
    auto flat = withFlats(frame, serves.flats, &warning);
    if (flat && !warning.empty())
        out.remarks.push_back(warning);
    return flat;
}

} // namespace

Result<std::vector<RenderJob>> renderJobs(const std::vector<fs::path> &images, const RenderRequest &request)
{
    const auto format = pictureFormatFrom(request.format);
    if (!format)
        return unusable("\"{format}\" is no format: tiff16, png16 or jpeg", {{"format", request.format}});
    if (!rgbSpaceFromId(request.space))
        return unusable("\"{space}\" is no space: srgb, display-p3, oprgb or romm",
                        {{"space", request.space}});
    std::set<fs::path> taken;
    std::vector<RenderJob> out;
    for (const auto &image : images) {
        const auto stem = image.stem().string();
        auto name = request.folder / (stem + extensionOf(*format));
        for (int number = 2; taken.count(name); ++number)
            name = request.folder / fmt::format("{}-{}{}", stem, number, extensionOf(*format));
        taken.insert(name);
        std::error_code code;
        if (fs::equivalent(name, image, code))
            return unusable("{file}: would be written over while it is read; give another folder",
                            {{"file", name.string()}});
        if (!request.overwrite && fs::exists(fs::symlink_status(name, code)))
            return unusable("{file}: is there already and is not replaced", {{"file", name.string()}});
        out.push_back({image, name});
    }
    return out;
}

Result<RenderSource> RenderSource::open(const RenderRequest &request)
{
    RenderSource out;
    out.m_flat = request.flat;
    out.m_job = request.job;
    if (!request.balance.empty()) {
        const auto balance = loadBalance(request.balance);
        if (!balance)
            return balance.error();
        out.m_balance = *balance;
    }
    if (!request.calibration.empty()) {
        const auto calibration = loadCalibration(request.calibration);
        if (!calibration)
            return calibration.error();
        out.m_calibration = *calibration;
        return out;
    }
    const auto store = JobStore::open(request.job);
    if (!store)
        return store.error();
    const auto state = (*store)->load();
    if (!state)
        return state.error();
    out.m_state = *state;
    out.m_stations = Stations(out.m_state);
    return out;
}

Result<RenderSource::Serves> RenderSource::servesFor(const fs::path &image) const
{
    Serves out;
    out.balance = m_balance;
    if (!m_flat.empty())
        out.flats = {m_flat};
    if (m_calibration) {
        out.calibration = *m_calibration;
        return out;
    }
    const auto row = rowOf(m_state, m_job, image);
    if (!row)
        return row.error();
    const JobFrame &frame = **row;
    const auto serving = m_stations.servingOf(m_state, frame.id);
    const auto *calibration = m_stations.calibrationFor(m_state, frame.id);
    if (!serving.chart || !calibration) {
        out.isServed = false;
        return out;
    }
    out.calibration = *calibration->calibration;
    out.doubts = serving.doubts;
    if (!out.balance)
        out.balance = frame.balance;
    if (m_flat.empty() && !out.calibration.flats.empty())
        for (const auto &flat : flatsOf(m_state, frame.setup, frame.camera))
            out.flats.push_back(m_job / flat);
    for (const auto &setup : m_state.setups)
        if (setup.id == frame.setup)
            out.isFlash = areFlashes(setup.lamps);
    if (const auto *reading = m_state.readingOf(serving.chart)) {
        out.pixelsPerInch = pixelsPerInchOf(*reading->reading);
        out.edgeSpread = edgeSpreadOf(*reading->reading);
    }
    out.distortion = distortionOf(m_state, frame.camera);
    return out;
}

RenderPlan renderPlan(const RawFrame &frame, const RenderSource::Serves &serves, const RgbSpace &space,
                      bool atChartLevel)
{
    RenderPlan plan;
    plan.space = space;
    plan.models = modelsFor(serves.calibration, neutralOf(frame, serves.balance));
    if (serves.balance && serves.calibration.lights.empty())
        for (auto &[weight, model] : plan.models.parts)
            model.multipliers = multipliersOf(*serves.balance);
    if (atChartLevel)
        plan.level =
            1 / exposureAgainstChart(frame.camera, serves.calibration.camera, serves.isFlash).value_or(1);
    return plan;
}

Result<RenderedPicture> renderPicture(const RenderJob &job, const RenderRequest &request,
                                      const RenderSource &source, const Progress &progress)
{
    RenderedPicture out;
    out.file = job.file;
    const auto serves = source.servesFor(job.image);
    if (!serves)
        return serves.error();
    out.isServed = serves->isServed;
    out.doubts = serves->doubts;
    if (!out.isServed)
        return out;
    const auto opened = openFrame(job.image, request.assume);
    if (!opened)
        return opened.error();
    if (!request.anyCamera)
        if (const auto other = refusedStation(serves->calibration, opened->camera, job.image.string()))
            return unusable(*other);
    if (!opened->assumedSpace.empty())
        out.remarks.push_back({"{file}: has no profile: taken as {space}",
                               {{"file", job.image.string()}, {"space", opened->assumedSpace}}});
    const auto frame = evened(*opened, *serves, out);
    if (!frame)
        return frame.error();
    RenderPlan plan = renderPlan(*frame, *serves, *rgbSpaceFromId(request.space), request.atChartLevel);
    plan.longSide = request.longSide;
    plan.finish.calmColour = request.calmColour;
    plan.finish.edgeSpread =
        std::min(request.edgeSpread < 0 ? serves->edgeSpread : request.edgeSpread, kMostEdgeSpread);
    plan.distortion = std::clamp(request.straighten ? serves->distortion : request.distortion,
                                 -kMostDistortion, kMostDistortion);
    if (request.edgeSpread < 0 && serves->edgeSpread == 0)
        out.remarks.push_back({"{file}: how sharp its chart is was not measured, so nothing is sharpened",
                               {{"file", job.image.string()}}});
    if (request.atChartLevel &&
        !exposureAgainstChart(frame->camera, serves->calibration.camera, serves->isFlash))
        out.remarks.push_back({"{file}: its exposure or the chart's is not known, so the level stays as shot",
                               {{"file", job.image.string()}}});
    if (request.longSide > std::max(frame->width, frame->height))
        out.remarks.push_back(
            {"{file}: has fewer pixels than asked for and is not enlarged", {{"file", job.image.string()}}});
    out.size = sizeOf(*frame, plan);
    PictureFacts facts{*pictureFormatFrom(request.format), out.size.width, out.size.height, plan.space,
                       frame->camera};
    facts.pixelsPerInch = request.pixelsPerInch > 0
                              ? request.pixelsPerInch
                              : serves->pixelsPerInch * enlargementBy(plan.distortion) * out.size.width /
                                    (frame->orientation >= 5 ? frame->height : frame->width);
    facts.deflate = request.deflate;
    facts.quality = request.quality;
    std::error_code code;
    fs::create_directories(request.folder, code);
    if (code)
        return unusable("{file}: cannot be made: {why}",
                        {{"file", request.folder.string()}, {"why", code.message()}});
    auto file = PictureFile::begin(job.file, facts, request.overwrite);
    if (!file)
        return file.error();
    const auto made = render(
        *frame, plan, [&](const uint16_t *codes, int rows) { return (*file)->add(codes, rows); }, progress);
    if (!made)
        return made.error();
    const auto finished = (*file)->finish();
    return finished ? Result<RenderedPicture>(out) : finished.error();
}

} // namespace wavechroma
