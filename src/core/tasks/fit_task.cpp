#include "core/tasks/fit_task.h"

#include "core/base/said.h"
#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/fit/fit.h"
#include "core/fit/merge_readings.h"
#include "core/fit/sector_lean.h"
#include "core/fit/two_lights.h"
#include "core/fit/weights.h"
#include "core/formats/calibration_tables.h"
#include "core/formats/documents.h"
#include "core/formats/names.h"
#include "core/formats/whole_file.h"
#include "core/proof/proof.h"
#include "core/raw/file_digest.h"
#include "core/tasks/camera_match.h"
#include "core/tasks/reference_task.h"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <system_error>

namespace wavechroma {

namespace {

constexpr double kOneLight = 0.06;

struct Prepared
{
    Reading reading; ///< with those that were merged into it and the charts beside it
    ChartDefinition chart;
    FitOptions options;
    bool toCamera = false;
};

/// The reading with those of the request merged into it.
Result<Reading> withOthers(const Reading &reading, const FitRequest &request)
{
    if (request.with.empty())
        return reading;
    std::vector<Reading> all{reading};
    for (const auto &other : request.with)
        all.push_back(other.reading);
    return mergedReading(all);
}

/// That with its references, and the charts that stand beside it in its frame.
Result<ChartSet> withBeside(const Reading &reading, const FitRequest &request)
{
    const auto whole = withOthers(reading, request);
    if (!whole)
        return whole.error();
    if (request.beside.empty()) {
        const auto chart = referencesOf(*whole, request.ask.reference);
        return chart ? Result<ChartSet>(ChartSet{*whole, *chart, {}}) : chart.error();
    }
    if (!request.ask.reference.empty())
        return unusable("{file}: several charts of one frame are fitted to their own references; read each "
                        "with its chart file instead of --reference",
                        {{"file", reading.image}});
    std::vector<std::pair<Reading, ChartDefinition>> charts;
    auto all = request.beside;
    all.insert(all.begin(), *whole);
    for (const auto &one : all) {
        const auto chart = referencesOf(one, {});
        if (!chart)
            return chart.error();
        charts.emplace_back(one, *chart);
    }
    return chartSet(charts);
}

/// Things of known colour count as patches. They stand anywhere in the light of the set: where the chart's is
/// uneven, they are taken to be in its middle.
void addThings(Prepared &to, const std::vector<KnownThing> &things)
{
    for (const auto &thing : things) {
        PatchReading patch;
        patch.id = thing.name;
        patch.mean = thing.rgb;
        patch.sd = thing.sd;
        patch.count = thing.count;
        to.reading.patches.push_back(patch);
        to.chart.patches.push_back({thing.name, xyzFromLab(thing.lab), {}});
        to.options.weights[thing.name] = thing.weight;
        to.options.places[thing.name] = {0, 0};
    }
}

Result<Prepared> prepared(const Reading &one, const FitRequest &request)
{
    const auto &ask = request.ask;
    const auto set = withBeside(one, request);
    if (!set)
        return set.error();
    const auto &reading = set->reading;
    const auto *chart = &set->chart;
    if (const auto known = check(ask.parts); !known)
        return known.error();
    Prepared out{reading, *chart, {}, !ask.reference.empty() && isCameraReference(ask.reference)};
    out.options.places = set->places;
    out.options.without = ask.without;
    out.options.crossValidate = !request.preview;
    out.options.lean = ask.lean;
    out.options.appearance = ask.appearance;
    out.options.eachChannel = out.toCamera || isRendered(reading);
    out.options.flare = !out.toCamera; // a veil cannot be told from the other one's tone
    if (const auto own = out.toCamera ? chartOf(reading) : Result<ChartDefinition>(unusable(""));
        own && own->colorsKnown)
        out.options.neutral = neutralIn(reading, *own);
    out.options.light = ask.light;
    if (!request.lights.empty()) {
        const auto light = lightNamed(request.lights.front());
        if (!light)
            return light.error();
        out.options.light = *light;
    }
    if (!ask.weights.empty()) {
        const auto weights = weightsFrom(ask.weights, *chart);
        if (!weights)
            return weights.error();
        out.options.weights = *weights;
    }
    addThings(out, ask.things);
    return out;
}

std::vector<SourceFrame> sourcesOf(const Reading &reading, const FitRequest &request)
{
    std::vector<SourceFrame> out;
    const auto add = [&](const std::string &image, const std::string &known) {
        const auto hash = known.empty() ? sha256OfFile(image) : Result<std::string>(known);
        out.push_back({image, hash ? *hash : ""});
    };
    add(reading.image, request.sha256);
    for (const auto &other : request.with)
        add(other.reading.image, other.sha256);
    return out;
}

/// `asked`: the parts that were asked for.
void complete(Calibration &calibration, const Parts &asked, const std::vector<SourceFrame> &sources,
              const FitRequest &request, const Prepared &prepared)
{
    calibration.asked = request.ask;
    calibration.asked.parts = asked;
    calibration.asked.light = prepared.options.light;
    calibration.asked.with = {sources.begin() + 1, sources.end()};
    calibration.madeFrom = sources;
    calibration.flats = prepared.reading.flats;
    calibration.madeWith = "Wavechroma " WAVECHROMA_VERSION;
    const auto &ask = request.ask;
    calibration.name = ask.name.empty() ? composedName(calibration, ask.setup) : ask.name;
    if (prepared.toCamera)
        calibration.warnings = warningsOfMatch(prepared.reading, prepared.chart);
}

/// Are two neutrals' colours, as the sensor saw them, those of one light?
bool isOneLight(const Vector3 &a, const Vector3 &b)
{
    return std::abs(std::log((a[0] / a[1]) / (b[0] / b[1]))) < kOneLight &&
           std::abs(std::log((a[2] / a[1]) / (b[2] / b[1]))) < kOneLight;
}

struct Group
{
    std::vector<Reading> readings;
    std::string light;
    Vector3 neutral{};
    std::vector<Reading> beside = {}; ///< other charts of the first one's frame
};

/// Is it another chart that stands in the frame of one that was given before?
bool isBeside(const Reading &reading, const Reading &other)
{
    return reading.image == other.image && reading.camera.capturedAt == other.camera.capturedAt &&
           reading.chart != other.chart;
}

/// Their order, those that show no neutral last: they may stand beside one that does.
std::vector<size_t> neutralsFirst(const std::vector<Reading> &readings, const std::string &reference)
{
    std::vector<size_t> out(readings.size());
    std::iota(out.begin(), out.end(), size_t(0));
    std::stable_partition(out.begin(), out.end(), [&](size_t i) {
        const auto chart = referencesOf(readings[i], reference);
        return !chart || neutralIn(readings[i], *chart);
    });
    return out;
}

Result<std::vector<Group>> groupsOf(const std::vector<Reading> &readings, const FitRequest &request)
{
    const bool each = request.lights.size() == readings.size() && readings.size() > 1;
    if (!each && request.lights.size() > 1)
        return unusable("give one --light for all readings, or one for each");
    std::vector<Group> groups;
    for (const size_t i : neutralsFirst(readings, request.ask.reference)) {
        const auto frame = std::find_if(groups.begin(), groups.end(), [&](const Group &g) {
            return isBeside(readings[i], g.readings.front());
        });
        if (frame != groups.end()) {
            frame->beside.push_back(readings[i]);
            continue;
        }
        const auto chart = referencesOf(readings[i], request.ask.reference);
        if (!chart)
            return chart.error();
        const auto neutral = neutralIn(readings[i], *chart);
        if (!neutral && readings.size() > 1)
            return unusable("{file}: has no usable neutral, so its light cannot be estimated",
                            {{"file", readings[i].image}});
        const std::string light = request.lights.empty() ? "" : request.lights[each ? i : 0];
        const auto same = std::find_if(groups.begin(), groups.end(), [&](const Group &g) {
            return each ? g.light == light : isOneLight(g.neutral, *neutral);
        });
        if (same != groups.end())
            same->readings.push_back(readings[i]);
        else
            groups.push_back({{readings[i]}, light, neutral.value_or(Vector3{1, 1, 1})});
    }
    if (groups.size() > 1 && !each && !request.lights.empty())
        return unusable(
            "the readings are of {lights} lights, but one --light is given; give one for each reading",
            {{"lights", double(groups.size())}});
    return groups;
}

FitRequest requestFor(const Group &group, const FitRequest &request)
{
    FitRequest one = request;
    one.lights = group.light.empty() ? std::vector<std::string>() : std::vector{group.light};
    for (size_t i = 1; i < group.readings.size(); ++i)
        one.with.push_back({group.readings[i]});
    one.beside = group.beside;
    return one;
}

Result<Calibration> fitGroup(const Group &group, const FitRequest &request, const Progress &progress)
{
    return fitReading(group.readings.front(), requestFor(group, request), progress);
}

bool isAsked(const Parts &parts, const Parts &asked)
{
    return (isAuto(asked.colour) || asked.colour == parts.colour) &&
           (isAuto(asked.tone) || asked.tone == parts.tone);
}

/// What nothing could be told apart by is answered plainly.
Parts plainFor(const Parts &asked)
{
    return {isAuto(asked.colour) ? plainParts().colour : asked.colour,
            isAuto(asked.tone) ? plainParts().tone : asked.tone};
}

Result<Calibration> fitOne(const Reading &reading, const Parts &parts, const FitRequest &request,
                           const Progress &progress)
{
    auto start = prepared(reading, request);
    if (!start)
        return start.error();
    start->options.parts = parts;
    auto calibration = fitCalibration(start->reading, start->chart, start->options, progress);
    if (calibration)
        complete(*calibration, request.ask.parts, sourcesOf(start->reading, request), request, *start);
    return calibration;
}

/// What a profile or table is called, by how its file begins; empty for other files.
std::string profileKindOf(const std::string &text)
{
    constexpr size_t kIccMark = 36;
    if (text.starts_with("IIRC") || text.starts_with("MMCR"))
        return words::said("a DNG camera profile");
    if (text.size() > kIccMark && text.compare(kIccMark, 4, "acsp") == 0)
        return words::said("an ICC profile");
    return text.substr(0, 4096).find("LUT_3D_SIZE") != text.npos ||
                   text.substr(0, 4096).find("LUT_1D_SIZE") != text.npos
               ? words::said("a .cube table")
               : "";
}

} // namespace

Result<Calibration> loadCalibration(const std::filesystem::path &file)
{
    const auto text = readText(file);
    if (!text)
        return text.error();
    if (const auto kind = profileKindOf(*text); !kind.empty())
        return unusable("{file}: is {kind}, not a calibration. Give the calibration that it was made of",
                        {{"file", file.string()}, {"kind", words::Phrase{kind}}});
    return calibrationFrom(*text, file.string());
}

Result<Done> saveCalibration(const std::filesystem::path &file, const Calibration &calibration)
{
    return writeWhole({{file, bytesOf(documentOf(calibration))}});
}

Result<std::vector<HueSector>> loadSectors(const std::filesystem::path &file)
{
    const auto text = readText(file);
    return text ? sectorsFromCsv(*text, file.string()) : text.error();
}

Result<ColourLean> leanFromSectors(const Calibration &calibration, const std::filesystem::path &file)
{
    const auto wanted = loadSectors(file);
    if (!wanted)
        return wanted.error();
    const auto sectors = sectorLeanFor(calibration, *wanted);
    if (!sectors)
        return sectors.error();
    auto lean = calibration.lean;
    lean.sectors = *sectors;
    return lean;
}

Result<Done> saveApart(const std::filesystem::path &folder, const std::vector<Calibration> &calibrations)
{
    std::vector<OutputFile> files;
    std::error_code code;
    for (const auto &calibration : calibrations) {
        const auto file = folder / (fileNameOf(calibration.name) + ".json");
        const bool isTaken =
            std::any_of(files.begin(), files.end(), [&](const auto &other) { return other.path == file; });
        if (isTaken || std::filesystem::exists(file, code))
            return unusable("{file}: exists already and is not replaced", {{"file", file.string()}});
        files.push_back({file, bytesOf(documentOf(calibration))});
    }
    std::filesystem::create_directories(folder, code);
    return writeWhole(files);
}

FitRequest requestOf(const Calibration &calibration)
{
    FitRequest request;
    request.ask = calibration.asked;
    return request;
}

Result<Calibration> fitReading(const Reading &reading, const FitRequest &request, const Progress &progress)
{
    const auto &asked = request.ask.parts;
    if (!isAuto(asked) || request.preview)
        return fitOne(reading, plainFor(asked), request, progress);
    auto plane = fitPlaneOf(reading, request, progress);
    if (!plane)
        return plane.error();
    if (progress.stopped())
        return unusable("{file}: stopped", {{"file", reading.image}});
    std::vector<const Calibration *> all;
    for (const auto &calibration : *plane)
        all.push_back(&calibration);
    const auto isWanted = [&](const Calibration *one) { return isAsked(one->parts, asked); };
    if (std::none_of(all.begin(), all.end(), isWanted)) // which says why
        return fitOne(reading, plainFor(asked), request, progress);
    auto chosen = (*plane)[recommendedAmong(all, asked, reading).index];
    chosen.asked.parts = asked;
    return chosen;
}

Result<std::vector<Calibration>> fitPlaneOf(const Reading &reading, const FitRequest &request,
                                            const Progress &progress)
{
    const auto start = prepared(reading, request);
    if (!start)
        return start.error();
    auto all = fitPlane(start->reading, start->chart, start->options, progress);
    if (!all || all->empty())
        return all;
    const auto sources = sourcesOf(start->reading, request); // frames are hashed once
    for (auto &calibration : *all)
        complete(calibration, calibration.parts, sources, request, *start);
    return all;
}

Recommendation recommendedAmong(const std::vector<const Calibration *> &plane, const Parts &asked,
                                const Reading &reading)
{
    std::vector<const Calibration *> some;
    std::vector<size_t> places;
    for (size_t i = 0; i < plane.size(); ++i)
        if (isAsked(plane[i]->parts, asked)) {
            some.push_back(plane[i]);
            places.push_back(i);
        }
    if (some.empty())
        return recommendationOf(plane, reading);
    auto out = recommendationOf(some, reading);
    out.index = places[out.index];
    return out;
}

static std::vector<KnownThing> without(const std::vector<KnownThing> &things, size_t i, size_t j)
{
    std::vector<KnownThing> out;
    for (size_t k = 0; k < things.size(); ++k)
        if (k != i && k != j)
            out.push_back(things[k]);
    return out;
}

/// ΔE2000 of a thing by the same fit with `things` alone; nothing where it cannot be made.
static std::optional<double> unseenOf(const KnownThing &thing, const std::vector<KnownThing> &things,
                                      const Reading &reading, FitRequest request, const Parts &parts)
{
    request.ask.things = things;
    request.ask.parts = parts;
    request.preview = true; // nothing but the model is asked for
    const auto fitted = fitReading(reading, request);
    return fitted ? std::optional(de2000(labFromXyz(xyzFromCamera(*fitted, thing.rgb)), thing.lab))
                  : std::nullopt;
}

std::vector<ThingJudged> judgedThings(const Calibration &calibration, const Reading &reading,
                                      const FitRequest &request)
{
    const auto &things = request.ask.things;
    std::vector<ThingJudged> out;
    std::vector<std::optional<double>> alone;
    for (size_t i = 0; i < things.size(); ++i)
        alone.push_back(unseenOf(things[i], without(things, i, i), reading, request, calibration.parts));
    for (size_t i = 0; i < things.size(); ++i) {
        ThingJudged judged{things[i].name, alone[i].value_or(0), {}};
        double bought = 0;
        for (size_t j = 0; j < things.size(); ++j) {
            const auto lacking =
                j == i ? std::nullopt
                       : unseenOf(things[j], without(things, i, j), reading, request, calibration.parts);
            if (lacking && alone[j])
                bought += (*lacking - *alone[j]) / double(things.size() - 1);
        }
        if (things.size() > 1)
            judged.bought = bought;
        out.push_back(judged);
    }
    return out;
}

static Result<Calibration> fitGroups(const std::vector<Reading> &readings, const FitRequest &request,
                                     const Progress &progress)
{
    const auto groups = groupsOf(readings, request);
    if (!groups)
        return groups.error();
    std::vector<Calibration> fitted;
    std::vector<Vector3> neutrals;
    FitRequest each = request;
    for (const auto &group : *groups) {
        auto calibration = fitGroup(group, each, progress);
        if (calibration && groups->size() == 1 && !request.ask.things.empty())
            calibration->things = judgedThings(*calibration, group.readings.front(), requestFor(group, each));
        if (!calibration || groups->size() == 1)
            return calibration;
        if (!request.ask.things.empty())
            return unusable("things of known colour join the fit of one light; fit each light by itself");
        each.ask.parts = calibration->parts; // lights joined are of the same parts: the first light's
        fitted.push_back(*calibration);
        neutrals.push_back(group.neutral);
    }
    auto joined = joinedLights(fitted, neutrals);
    if (joined && request.ask.name.empty()) {
        std::string lights;
        for (const auto &light : joined->lights)
            lights += (lights.empty() ? "" : " to ") + light.light.name;
        Calibration named = *joined;
        named.light.name = lights;
        joined->name = composedName(named, request.ask.setup);
    }
    return joined;
}

Result<Calibration> fitReadings(const std::vector<Reading> &readings, const FitRequest &request,
                                const Progress &progress)
{
    auto exact = fitGroups(readings, request, progress);
    if (!exact || request.sectors.empty())
        return exact;
    const auto sectors = sectorLeanFor(*exact, request.sectors);
    if (!sectors)
        return sectors.error();
    if (*sectors == exact->lean.sectors)
        return exact;
    auto again = request; // for figures and a name that are of what the sectors make of it
    again.ask.parts = exact->parts;
    again.ask.lean.sectors = *sectors;
    auto leaned = fitGroups(readings, again, progress);
    if (leaned)
        leaned->asked.parts = exact->asked.parts;
    return leaned;
}

Result<Done> checkWeights(const std::string &weights, const ChartDefinition &chart)
{
    const auto known = weightsFrom(weights, chart);
    return known ? Result<Done>(Done{}) : known.error();
}

Result<Calibration> joinLights(const std::vector<Calibration> &calibrations,
                               const std::vector<Vector3> &neutrals)
{
    return joinedLights(calibrations, neutrals);
}

} // namespace wavechroma
