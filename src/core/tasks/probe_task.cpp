#include "core/tasks/probe_task.h"

#include "core/base/capture_clock.h"
#include "core/base/filled.h"
#include "core/base/said.h"
#include "core/color/illuminant.h"
#include "core/color/lab.h"
#include "core/color/rgb_space.h"
#include "core/formats/whole_file.h"
#include "core/jobstore/job_store.h"
#include "core/measure/follow.h"
#include "core/measure/sample.h"
#include "core/raw/open_frame.h"
#include "core/raw/overview.h"
#include "core/sim/instrument.h"
#include "core/sim/reflectance.h"
#include "core/tasks/refusals.h"
#include "core/words/answer_words.h"

#include <algorithm>
#include <system_error>
#include <tbb/parallel_for.h>

namespace wavechroma {

namespace fs = std::filesystem;

namespace {

/// A share of saturated samples from which on a colour is not the camera's answer any more.
constexpr double kMostClipped = 0.02;

Probe probeAt(const RawFrame &frame, const PictureServes &serves, const ProbePlace &place,
              const ModelBlend &models, double level)
{
    Probe out;
    out.place = place;
    const auto sample = sampleDisc(frame, {place.x, place.y}, place.radius);
    if (!sample) {
        out.why = "outside";
        return out;
    }
    out.count = sample->count;
    out.clipped = sample->clipped;
    if (sample->clipped > kMostClipped)
        out.why = "clipped";
    else if (!serves.isServed)
        out.why = "unserved";
    else
        colourOf(out, sample->mean, sample->sd, models, level);
    return out;
}

/// Is a place said for `named` one on this image? By path, else by file name.
bool isFor(const std::string &named, const fs::path &image)
{
    std::error_code code;
    return named.empty() || fs::equivalent(named, image, code) || fs::path(named) == image.filename();
}

std::vector<ProbePlace> placesFor(const fs::path &image, const ProbeRequest &request,
                                  const PictureSource &source)
{
    std::vector<ProbePlace> out;
    for (const auto &[named, place] : request.places)
        if (isFor(named, image))
            out.push_back(place);
    if (request.places.empty())
        if (const auto row = source.rowOf(image))
            out = placesOn(source.state(), (*row)->id);
    return out;
}

std::vector<ProbeTarget> allTargets(const ProbeRequest &request, const PictureSource &source)
{
    auto out = request.targets;
    for (const auto &target : targetsOf(source.state()))
        if (!targetNamed(out, target.name))
            out.push_back(target);
    return out;
}

std::string yarnNames()
{
    std::vector<std::string> names;
    for (const auto &yarn : sim::yarns())
        names.emplace_back(yarn.name);
    return words::joined(names, ", ");
}

} // namespace

Result<std::vector<ProbeTarget>> loadTargets(const fs::path &file, TableReading *how)
{
    const auto text = readText(file);
    return text ? targetsFrom(*text, file.string(), how) : text.error();
}

Result<std::vector<std::pair<std::string, ProbePlace>>> loadPlaces(const fs::path &file)
{
    const auto text = readText(file);
    return text ? placesFrom(*text, file.string()) : text.error();
}

Result<Lab> measuredThing(const std::string &name, uint64_t seed)
{
    const auto spectrum = sim::measureYarn(name, seed);
    if (!spectrum)
        return unusable("the simulated instrument has no object called {name}; it has {yarns}",
                        {{"name", name}, {"yarns", yarnNames()}});
    return labFromXyz(xyzD50FromReflectance(*spectrum, illuminantD50()));
}

FrameProbes probeFrame(const RawFrame &frame, const PictureServes &serves,
                       const std::vector<ProbePlace> &places, const std::vector<ProbeTarget> &targets,
                       double ordinary, bool atChartLevel)
{
    FrameProbes out{frame.path, serves.isServed ? serves.calibration.name : std::string(), {}};
    const auto models = serves.isServed ? modelsOf(frame, serves) : ModelBlend();
    const double level = levelOf(frame, serves, atChartLevel);
    const ForetoldError foretold(serves.calibration);
    for (const auto &place : places) {
        auto probe = probeAt(frame, serves, place, models, level);
        if (probe.lab && foretold.isKnown())
            probe.foretold = foretold.at(*probe.lab);
        if (const auto *target = targetNamed(targets, place.name))
            compareWith(probe, *target, ordinary);
        out.probes.push_back(std::move(probe));
    }
    return out;
}

Result<FrameProbes> probeImage(const fs::path &image, const ProbeRequest &request,
                               const PictureSource &source, std::vector<words::Phrase> &remarks)
{
    const auto serves = source.servesFor(image);
    if (!serves)
        return serves.error();
    const auto places = placesFor(image, request, source);
    if (places.empty())
        return unusable("{file}: has no probes. Give --at or --places", {{"file", image.string()}});
    const auto opened = openFrame(image, request.assume);
    if (!opened)
        return opened.error();
    if (serves->isServed && !request.anyCamera)
        if (const auto other = refusedStation(serves->calibration, opened->camera, image.string()))
            return unusable(*other);
    if (serves->isServed && request.atChartLevel && !exposureAgainstChart(opened->camera, *serves))
        remarks.push_back(
            {words::said("{file}: its exposure or the chart's is unknown, so its level stays as shot"),
             {{"file", image.string()}}});
    if (serves->isServed && request.atChartLevel && serves->doubtOfLevel)
        remarks.push_back(
            {"{file}: {doubt}",
             {{"file", image.string()}, {"doubt", words::doubt(*serves->doubtOfLevel, words::plain())}}});
    const auto frame = serves->isServed ? evened(*opened, *serves, remarks) : opened;
    if (!frame)
        return frame.error();
    const double ordinary = sheetOf(source.state()).proof.patch;
    auto out =
        probeFrame(*frame, *serves, places, allTargets(request, source), ordinary, request.atChartLevel);
    out.image = image.string();
    const auto whole = stillWhole(*frame);
    return whole ? Result<FrameProbes>(out) : whole.error();
}

std::vector<ProbeAtTime> overTheDay(const PictureSource &source, const std::string &name,
                                    const Progress &progress)
{
    std::vector<ProbeAtTime> out;
    const auto &all = source.state().probes;
    for (size_t i = 0; i < all.size(); ++i) {
        progress.at(double(i) / double(all.size()), {"{name} over the day", {{"name", name}}});
        const auto *frame = source.state().frame(all[i].frame);
        if (all[i].place.name != name || all[i].isProposed || !frame)
            continue;
        if (progress.stopped())
            return {};
        ProbeRequest request;
        request.places = {{"", all[i].place}};
        std::vector<words::Phrase> remarks;
        const auto read = probeImage(source.fileOf(*frame), request, source, remarks);
        if (read)
            out.push_back({frame->id, frame->camera.capturedAt, read->probes.front()});
    }
    CaptureClock clock;
    for (const auto &one : out)
        clock.add(one.capturedAt);
    std::stable_sort(out.begin(), out.end(), [&](const auto &a, const auto &b) {
        return clock.isBefore(a.capturedAt, b.capturedAt);
    });
    return out;
}

std::vector<ProbePlace> followedPlaces(const fs::path &from, const RawFrame &to,
                                       const std::vector<ProbePlace> &places)
{
    const auto before = openFrame(from);
    if (!before || places.empty())
        return places;
    const int block = std::max(smallestBlock(to), std::max(to.width, to.height) / 700);
    const auto was = overviewOf(*before, block), is = overviewOf(to, block);
    auto out = places;
    for (auto &place : out)
        if (const auto found = followed(was, is, {place.x, place.y}, place.radius)) {
            place.x = found->place.x;
            place.y = found->place.y;
        }
    return out;
}

/// What most cells of 5 × 5 around one say: a region, rather than the grain of one that lies at the limit or
/// the rim where two colours mix.
static std::vector<uint8_t> byMajority(const std::vector<uint8_t> &cells, int width, int height)
{
    constexpr int kReach = 2;
    std::vector<uint8_t> out(cells.size());
    tbb::parallel_for(0, height, [&](int y) {
        const int top = std::max(0, y - kReach), bottom = std::min(height - 1, y + kReach);
        for (int x = 0; x < width; ++x) {
            const int left = std::max(0, x - kReach), right = std::min(width - 1, x + kReach);
            int over = 0;
            for (int j = top; j <= bottom; ++j)
                for (int i = left; i <= right; ++i)
                    over += cells[size_t(j) * size_t(width) + size_t(i)];
            out[size_t(y) * size_t(width) + size_t(x)] =
                2 * over > (bottom - top + 1) * (right - left + 1) ? 1 : 0;
        }
    });
    return out;
}

/// Calls `f` with each cell's place and colour, rows beside each other; stops between rows.
template <class F>
static void forEachColour(const Overview &level, const ModelBlend &models, double gain,
                          const Progress &progress, F &&f)
{
    tbb::parallel_for(0, level.height, [&](int y) {
        if (progress.stopped())
            return;
        for (int x = 0; x < level.width; ++x) {
            const size_t at = size_t(y) * size_t(level.width) + size_t(x);
            const float *rgb = &level.rgb[3 * at];
            f(at,
              xyzFromCamera(models, {gain * double(rgb[0]), gain * double(rgb[1]), gain * double(rgb[2])}));
        }
    });
}

DoubtedColours doubtedColours(const RawFrame &frame, const Overview &level, const PictureServes &serves,
                              double limit, const Progress &progress)
{
    const ForetoldError foretold(serves.calibration);
    if (!serves.isServed || !foretold.isKnown())
        return {};
    const auto models = modelsOf(frame, serves);
    const double gain = levelOf(frame, serves, true); // lightness as of the chart's exposure
    DoubtedColours out{level.width, level.height, level.block, std::vector<uint8_t>(level.rgb.size() / 3), 0};
    forEachColour(level, models, gain, progress,
                  [&](size_t at, const Xyz &xyz) { out.isOver[at] = foretold.at(labFromXyz(xyz)) > limit; });
    if (progress.stopped())
        return {};
    out.isOver = byMajority(out.isOver, out.width, out.height);
    const auto over = std::count(out.isOver.begin(), out.isOver.end(), 1);
    out.share = out.isOver.empty() ? 0 : double(over) / double(out.isOver.size());
    return out;
}

/// Does linear RGB lie outside for its colour, rather than for a level beyond white?
static bool isOutside(const LinearRgb &rgb)
{
    constexpr double kRounding = 2e-3, kWhite = 0.98;
    const auto [least, most] = std::minmax({rgb.r, rgb.g, rgb.b});
    return least < -kRounding || (most > 1 + kRounding && least < kWhite);
}

OutsideColours outsideColours(const RawFrame &frame, const Overview &level, const PictureServes &serves,
                              const Progress &progress)
{
    if (!serves.isServed)
        return {};
    const auto models = modelsOf(frame, serves);
    const double gain = levelOf(frame, serves, false);
    OutsideColours out{level.width, level.height, level.block, {}, {}};
    for (auto &mask : out.isOutside)
        mask.resize(level.rgb.size() / 3);
    forEachColour(level, models, gain, progress, [&](size_t at, const Xyz &xyz) {
        for (size_t i = 0; i < out.isOutside.size(); ++i)
            out.isOutside[i][at] = isOutside(rgbFromXyzD50(rgbSpaces()[i], xyz));
    });
    if (progress.stopped())
        return {};
    for (size_t i = 0; i < out.isOutside.size(); ++i) {
        const auto &mask = out.isOutside[i];
        out.share[i] =
            mask.empty() ? 0 : double(std::count(mask.begin(), mask.end(), 1)) / double(mask.size());
    }
    return out;
}

std::vector<ProbeTarget> targetsOf(const JobState &state)
{
    std::vector<ProbeTarget> out;
    for (const auto &row : state.targets)
        out.push_back(row.target);
    return out;
}

std::vector<ProbePlace> placesOn(const JobState &state, RowId frame)
{
    std::vector<ProbePlace> out;
    for (const auto *row : state.probesOf(frame))
        if (!row->isProposed)
            out.push_back(row->place);
    return out;
}

JobChange probesInto(const JobState &state, const std::vector<std::pair<RowId, ProbePlace>> &places,
                     const std::vector<ProbeTarget> &targets)
{
    JobChange change;
    RowId next = nextId(state);
    for (const auto &[frame, place] : places) {
        RowChange<JobProbe> row;
        for (const auto *had : state.probesOf(frame))
            if (had->place.name == place.name)
                row.before = *had;
        row.after = JobProbe{row.before ? row.before->id : next++, frame, place};
        change.probes.push_back(row);
    }
    for (const auto &target : targets) {
        RowChange<JobTarget> row;
        for (const auto &had : state.targets)
            if (targetNamed({had.target}, target.name))
                row.before = had;
        row.after = JobTarget{row.before ? row.before->id : next++, target};
        change.targets.push_back(row);
    }
    return change;
}

Result<Done> saveProbes(const ProbeRequest &request, const PictureSource &source,
                        const std::vector<fs::path> &images)
{
    std::vector<std::pair<RowId, ProbePlace>> places;
    for (const auto &image : images) {
        const auto row = source.rowOf(image);
        if (!row)
            return row.error();
        for (const auto &[named, place] : request.places)
            if (isFor(named, image))
                places.emplace_back((*row)->id, place);
    }
    const auto store = JobStore::open(request.asked.job);
    if (!store)
        return store.error();
    const auto state = (*store)->load();
    if (!state)
        return state.error();
    return (*store)->apply(probesInto(*state, places, request.targets));
}

} // namespace wavechroma
