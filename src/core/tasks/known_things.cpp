#include "core/tasks/known_things.h"

#include "core/capture/compare_frames.h"
#include "core/formats/probe_document.h"
#include "core/formats/whole_file.h"
#include "core/measure/sample.h"
#include "core/raw/open_frame.h"
#include "core/tasks/probe_task.h"
#include "core/tasks/read_task.h"

#include <algorithm>
#include <cmath>
#include <system_error>

namespace wavechroma {

namespace fs = std::filesystem;

namespace {

constexpr double kMostBurnt = 0.02;  ///< share of samples
constexpr double kHalfWeight = 0.05; ///< scatter of samples, as a share of their mean

/// As the document has it, else beside the document.
fs::path fileOf(const std::string &image, const fs::path &document)
{
    std::error_code code;
    const fs::path beside = document.parent_path() / image;
    return !fs::exists(image, code) && fs::exists(beside, code) ? beside : fs::path(image);
}

double weightOf(const PatchReading &sample)
{
    const double scatter =
        (sample.sd.r / sample.mean.r + sample.sd.g / sample.mean.g + sample.sd.b / sample.mean.b) / 3;
    return 1 / (1 + scatter * scatter / (kHalfWeight * kHalfWeight));
}

CameraRgb scaled(const CameraRgb &rgb, double factor)
{
    return {rgb.r * factor, rgb.g * factor, rgb.b * factor};
}

/// What takes the frame to the level of the chart.
Result<double> levelOf(const CameraFacts &frame, const Reading &reading, const std::string &name)
{
    const auto stops = settingStops(frame, reading.camera);
    if (!stops)
        return unusable(
            "{file}: its exposure or the chart's is not known, so it cannot be brought to the chart's "
            "level",
            {{"file", name}});
    return std::exp2(-*stops);
}

Result<KnownThing> thingOn(const RawFrame &frame, const Probe &probe, double level)
{
    const auto &place = probe.place;
    const auto sample = sampleDisc(frame, {place.x, place.y}, place.radius);
    if (!sample || sample->clipped > kMostBurnt ||
        !(std::min({sample->mean.r, sample->mean.g, sample->mean.b}) > 0))
        return unusable("{file}: {name} lies outside the frame, is burnt or black there",
                        {{"file", frame.path}, {"name", place.name}});
    return KnownThing{place.name,
                      frame.path,
                      scaled(sample->mean, level),
                      scaled(sample->sd, level),
                      sample->count,
                      probe.target->lab,
                      weightOf(*sample)};
}

/// `source`: of the names, for what is said of them.
Result<Done> addFrom(const FrameProbes &probes, const fs::path &file, const std::string &source,
                     const Reading &reading, std::vector<KnownThing> &out)
{
    const auto opened = openFrame(file);
    if (!opened)
        return opened.error();
    if (!samePair(opened->camera, reading.camera))
        return unusable("{file}: is of another camera or lens than the chart", {{"file", file.string()}});
    const auto level = levelOf(opened->camera, reading, file.string());
    if (!level)
        return level.error();
    const auto frame = reading.flats.empty()
                           ? Result<RawFrame>(*opened)
                           : withFlats(*opened, {reading.flats.begin(), reading.flats.end()});
    if (!frame)
        return frame.error();
    for (const auto &probe : probes.probes) {
        if (!probe.target)
            continue;
        const auto &name = probe.place.name;
        const bool isTaken =
            reading.patch(name) ||
            std::any_of(out.begin(), out.end(), [&](const KnownThing &other) { return other.name == name; });
        if (isTaken)
            return unusable("{file}: the name {name} is a patch's, or is there twice",
                            {{"file", source}, {"name", name}});
        auto thing = thingOn(*frame, probe, *level);
        if (!thing)
            return thing.error();
        out.push_back(std::move(*thing));
    }
    return Done{};
}

/// A thing that an earlier frame shows too is fitted by that one.
FrameProbes notYetIn(const std::vector<KnownThing> &known, FrameProbes probes)
{
    std::erase_if(probes.probes, [&](const Probe &probe) {
        return std::any_of(known.begin(), known.end(),
                           [&](const KnownThing &thing) { return thing.name == probe.place.name; });
    });
    return probes;
}

} // namespace

Result<std::vector<KnownThing>> knownThings(const fs::path &file, const Reading &reading)
{
    const auto text = readText(file);
    const auto all = text ? probesFrom(*text, file.string()) : Result<std::vector<FrameProbes>>(text.error());
    if (!all)
        return all.error();
    std::vector<KnownThing> out;
    for (const auto &each : *all) {
        const auto probes = notYetIn(out, each);
        const bool hasTargets = std::any_of(probes.probes.begin(), probes.probes.end(),
                                            [](const Probe &probe) { return probe.target.has_value(); });
        if (hasTargets)
            if (const auto added = addFrom(probes, fileOf(probes.image, file), file.string(), reading, out);
                !added)
                return added.error();
    }
    if (out.empty())
        return unusable("{file}: none of its places has a target, so there is nothing to fit to",
                        {{"file", file.string()}});
    return out;
}

/// The frame's probes that have a target.
static FrameProbes probesWithTargets(const JobState &state, RowId frame)
{
    const auto targets = targetsOf(state);
    FrameProbes out;
    for (const auto &place : placesOn(state, frame))
        for (const auto &target : targets)
            if (target.name == place.name) {
                Probe probe;
                probe.place = place;
                probe.target = target;
                out.probes.push_back(std::move(probe));
            }
    return out;
}

Result<std::vector<KnownThing>> knownThings(const Job &job, RowId chart, const Reading &reading,
                                            const Progress &progress)
{
    std::vector<KnownThing> out;
    for (const auto &frame : job.rows().frames) {
        const bool isServed =
            frame.part == FramePart::Product && !frame.setAside && job.serving(frame.id).chart == chart;
        const auto probes = notYetIn(out, isServed ? probesWithTargets(job.rows(), frame.id) : FrameProbes());
        if (probes.probes.empty())
            continue;
        if (progress.stopped())
            return unusable("{file}: stopped", {{"file", frame.path}});
        const auto before = out.size();
        if (const auto added = addFrom(probes, job.fileOf(frame), frame.path, reading, out); !added)
            return added.error();
        for (size_t i = before; i < out.size(); ++i)
            out[i].image = frame.path;
    }
    if (out.empty())
        return unusable(
            "No probe on a frame that this chart serves has a target, so there is nothing more to fit to");
    return out;
}

} // namespace wavechroma
