#include "core/tasks/agree_task.h"

#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/fit/draw_together.h"
#include "core/fit/two_lights.h"
#include "core/formats/names.h"
#include "core/formats/reader_colour.h"
#include "core/measure/sample.h"
#include "core/raw/open_frame.h"
#include "core/tasks/fit_task.h"
#include "core/tasks/job_task.h"
#include "core/tasks/picture_source.h"
#include "core/tasks/probe_task.h"
#include "core/tasks/reference_task.h"
#include "core/tasks/serve_task.h"

#include <algorithm>
#include <set>

namespace wavechroma {

namespace fs = std::filesystem;

namespace {

/// A station that can be held beside others.
struct Side
{
    const Station *station = nullptr;
    RowId chart = 0;
    Reading reading;
    ChartDefinition references;
    Calibration calibration;
    CameraColour plain;
    std::map<std::string, std::vector<CameraRgb>> things; ///< by name, at the chart's level, one a frame
    std::map<std::string, std::vector<Lab>> labs;         ///< of the same, by what serves each frame
    std::map<std::string, std::string> doubted;           ///< by name, a frame whose light may be another
};

std::vector<Side> sidesOf(const PictureSource &source)
{
    std::vector<Side> out;
    const auto &state = source.state();
    for (const auto *station : source.job().stations().all()) {
        const auto chart = station->answer.frame;
        const auto *reading = chart ? state.readingOf(chart) : nullptr;
        const auto *row = chart ? state.calibrationOf(chart, partsFor(state, chart)) : nullptr;
        if (!reading || !row || reading->reading.fault() || row->calibration.fault() ||
            !reading->reading->found)
            continue;
        Side side{station, chart, *reading->reading, {}, *row->calibration, {}, {}, {}, {}};
        const auto references = referencesOf(side.reading, side.calibration.asked.reference);
        if (!references || !references->colorsKnown)
            continue;
        side.references = *references;
        side.plain = plainColour(viewOf(side.reading, side.references));
        out.push_back(std::move(side));
    }
    return out;
}

Lab meanOf(const std::vector<Lab> &labs)
{
    Lab sum;
    for (const auto &lab : labs)
        sum = {sum.l + lab.l, sum.a + lab.a, sum.b + lab.b};
    const auto n = double(labs.size());
    return {sum.l / n, sum.a / n, sum.b / n};
}

CameraRgb meanOf(const std::vector<CameraRgb> &all)
{
    CameraRgb sum;
    for (const auto &rgb : all)
        sum = {sum.r + rgb.r, sum.g + rgb.g, sum.b + rgb.b};
    const auto n = double(all.size());
    return {sum.r / n, sum.g / n, sum.b / n};
}

/// The probes of a frame, into the station that it belongs to.
bool addThings(Side &side, const PictureSource &source, const JobFrame &row)
{
    constexpr double kBurnt = 0.02;
    const auto places = placesOn(source.state(), row.id);
    const auto serves = source.servesFor(row);
    if (places.empty() || !serves.isServed)
        return true;
    const auto opened = openFrame(source.fileOf(row));
    if (!opened)
        return false;
    std::vector<words::Phrase> remarks;
    const auto frame = evened(*opened, serves, remarks);
    if (!frame)
        return false;
    const bool isDoubted = std::any_of(serves.doubts.begin(), serves.doubts.end(), [](const Doubt &doubt) {
        return doubt.code == "other-light" || doubt.code == "light-moved" || doubt.code == "no-chart";
    });
    const auto models = modelsOf(*frame, serves);
    const double level = wavechroma::levelOf(*frame, serves, true);
    for (const auto &place : places) {
        const auto sample = sampleDisc(*frame, {place.x, place.y}, place.radius);
        if (!sample || sample->clipped > kBurnt)
            continue;
        const CameraRgb rgb{level * sample->mean.r, level * sample->mean.g, level * sample->mean.b};
        side.things[place.name].push_back(rgb);
        if (isDoubted)
            side.doubted.emplace(place.name, row.path);
        side.labs[place.name].push_back(labFromXyz(xyzFromCamera(models, rgb)));
    }
    return true;
}

/// Mean over pairs.
double spreadOf(const std::vector<Lab> &labs)
{
    double sum = 0;
    int pairs = 0;
    for (size_t i = 0; i < labs.size(); ++i)
        for (size_t j = 0; j < i; ++j, ++pairs)
            sum += de2000(labs[i], labs[j]);
    return pairs > 0 ? sum / pairs : 0;
}

/// The chart that most stations shot.
std::string commonChart(const std::vector<Side> &sides)
{
    std::map<std::string, int> counts;
    for (const auto &side : sides)
        ++counts[side.reading.chart];
    const auto most = std::max_element(counts.begin(), counts.end(),
                                       [](const auto &a, const auto &b) { return a.second < b.second; });
    return most->first;
}

void addThing(std::vector<AgreedThing> &to, const std::string &id, const std::map<std::string, Lab> &now,
              const std::vector<Lab> &plain)
{
    if (now.size() < 2)
        return;
    std::vector<Lab> labs;
    for (const auto &[station, lab] : now)
        labs.push_back(lab);
    to.push_back({id, now, spreadOf(plain), spreadOf(labs)});
}

std::vector<AgreedThing> patchesOf(const std::vector<Side> &sides)
{
    std::vector<AgreedThing> out;
    const auto chart = commonChart(sides);
    const auto first =
        std::find_if(sides.begin(), sides.end(), [&](const Side &s) { return s.reading.chart == chart; });
    for (const auto &patch : first->references.patches) {
        std::map<std::string, Lab> now;
        std::vector<Lab> plain;
        for (const auto &side : sides) {
            const auto *seen = side.reading.chart == chart ? side.reading.patch(patch.id) : nullptr;
            if (!seen || seen->count == 0 || seen->clipped > 0.02 || side.reading.isLeftOut(patch.id))
                continue;
            const auto models = modelsFor(side.calibration, neutralIn(side.reading, side.references));
            now[side.station->name] = labFromXyz(xyzFromCamera(models, seen->mean));
            plain.push_back(labFromXyz(side.plain(seen->mean)));
        }
        addThing(out, patch.id, now, plain);
    }
    return out;
}

std::vector<AgreedThing> objectsOf(const std::vector<Side> &sides)
{
    std::set<std::string> names;
    for (const auto &side : sides)
        for (const auto &[name, labs] : side.labs)
            names.insert(name);
    std::vector<AgreedThing> out;
    for (const auto &name : names) {
        std::map<std::string, Lab> now;
        std::vector<Lab> plain;
        for (const auto &side : sides)
            if (const auto labs = side.labs.find(name); labs != side.labs.end()) {
                now[side.station->name] = meanOf(labs->second);
                plain.push_back(labFromXyz(side.plain(meanOf(side.things.at(name)))));
            }
        addThing(out, name, now, plain);
    }
    return out;
}

MeanSpread meanSpread(const std::vector<AgreedThing> &things)
{
    MeanSpread out;
    for (const auto &thing : things) {
        out.plain += thing.spreadPlain / double(things.size());
        out.now += thing.spread / double(things.size());
    }
    return out;
}

/// Of objects where several stations saw some, else of patches.
std::optional<WorstPair> worstOf(const StationAgreement &agreement, const std::vector<Side> &sides)
{
    const bool byObjects = !agreement.objects.empty();
    WorstPair out;
    for (const auto &thing : byObjects ? agreement.objects : agreement.patches)
        for (auto a = thing.lab.begin(); a != thing.lab.end(); ++a)
            for (auto b = thing.lab.begin(); b != a; ++b)
                if (const double apart = de2000(a->second, b->second); apart > out.de00)
                    out = {thing.id, b->first, a->first, apart, byObjects, "draw-together", {}};
    if (out.id.empty())
        return std::nullopt;
    for (const auto &side : sides) {
        const bool isOne = side.station->name == out.first || side.station->name == out.second;
        const auto doubted = side.doubted.find(out.id);
        if (isOne && byObjects && doubted != side.doubted.end()) {
            out.mend = "doubted-frame";
            out.at = doubted->second;
            return out;
        }
        if (isOne && side.station->answer.state != Answer::State::Good) {
            out.mend = "shoot-again";
            out.at = side.station->name;
        }
    }
    return out;
}

DrawnStation drawnStation(const Side &side, const JobState &state)
{
    DrawnStation out;
    out.patches = side.calibration.patches;
    auto asked = requestFor(state, side.chart);
    asked.ask.parts = side.calibration.parts;
    asked.preview = true; // nothing but the model
    out.fit = [reading = side.reading,
               asked](const std::set<std::string> &without) -> std::optional<ColorModel> {
        auto less = asked;
        less.ask.without.insert(less.ask.without.end(), without.begin(), without.end());
        const auto fitted = fitReading(reading, less);
        return fitted ? std::optional<ColorModel>(*fitted) : std::nullopt;
    };
    return out;
}

/// The colours of the worst thing at both stations, by these models.
double apartBy(const std::vector<ColorModel> &models, const std::vector<Side> &sides, const WorstPair &worst)
{
    std::vector<Lab> labs;
    for (size_t s = 0; s < sides.size(); ++s) {
        const auto &side = sides[s];
        if (side.station->name != worst.first && side.station->name != worst.second)
            continue;
        const auto thing = side.things.find(worst.id);
        const auto *patch = side.reading.patch(worst.id);
        if (worst.isObject && thing != side.things.end())
            labs.push_back(labFromXyz(xyzFromCamera(models[s], meanOf(thing->second))));
        else if (!worst.isObject && patch)
            labs.push_back(labFromXyz(xyzFromCamera(models[s], patch->mean)));
    }
    return labs.size() == 2 ? de2000(labs[0], labs[1]) : 0;
}

Result<Done> draw(Agreed &to, const std::vector<Side> &sides, const JobState &state,
                  const AgreeRequest &request, const Progress &progress)
{
    std::vector<DrawnStation> stations;
    for (const auto &side : sides)
        stations.push_back(drawnStation(side, state));
    for (size_t i = 0; i < sides.size(); ++i)
        stations[i].isLeader = sides[i].station->name == request.leader;
    if (!request.leader.empty() &&
        std::none_of(stations.begin(), stations.end(), [](const auto &one) { return one.isLeader; }))
        return unusable("--leader: no station \"{name}\" takes part in the agreement",
                        {{"name", request.leader}});
    std::vector<SharedThing> things;
    for (const auto &object : to.agreement.objects) {
        SharedThing thing{object.id, {}};
        for (const auto &side : sides) {
            const auto seen = side.things.find(object.id);
            thing.rgb.push_back(seen == side.things.end() ? std::nullopt
                                                          : std::optional(meanOf(seen->second)));
        }
        things.push_back(thing);
    }
    const auto drawn = drawTogether(stations, things, request.give, progress);
    if (!drawn)
        return drawn.error();
    DrawnFigures figures;
    figures.weight = drawn->weight;
    figures.leader = request.leader;
    figures.spread = {drawn->before, drawn->after};
    figures.objects = {drawn->thingsBefore, drawn->thingsAfter};
    for (size_t s = 0; s < sides.size(); ++s) {
        figures.stations[sides[s].station->name] = {drawn->stations[s].before, drawn->stations[s].after};
        if (drawn->weight == 0)
            continue;
        auto calibration = sides[s].calibration;
        static_cast<ColorModel &>(calibration) = drawn->models[s];
        calibration.name = calibration.asked.name = sides[s].station->name + ", drawn together";
        calibration.crossValidated.mean = drawn->stations[s].after;
        to.drawn.push_back(calibration);
    }
    if (to.agreement.worst)
        figures.worstStays = apartBy(drawn->nearest, sides, *to.agreement.worst);
    to.agreement.drawn = figures;
    return Done{};
}

Result<Done> applyTo(const std::filesystem::path &job, const Agreed &agreed)
{
    const auto store = JobStore::open(job);
    if (!store)
        return store.error();
    const auto state = (*store)->load();
    if (!state)
        return state.error();
    return (*store)->apply(drawnChange(*state, Stations(*state), agreed));
}

} // namespace

JobChange drawnChange(JobState state, const Stations &stations, const Agreed &agreed)
{
    JobChange out;
    for (size_t s = 0; s < agreed.drawn.size(); ++s) {
        std::vector<RowId> frames;
        for (const auto *station : stations.all())
            for (const auto id :
                 station->name == agreed.agreement.stations[s] ? station->frames : std::vector<RowId>())
                if (const auto *row = state.frame(id);
                    row && row->part == FramePart::Product && !row->setAside)
                    frames.push_back(id);
        const auto change = servedByCalibration(state, frames, agreed.drawn[s]);
        wavechroma::apply(state, change);
        out = merged(std::move(out), change);
    }
    return out;
}

Result<Agreed> agreementOf(const AgreeRequest &request, const Progress &progress)
{
    const auto source = PictureSource::open({{}, request.job, {}, {}});
    if (!source)
        return source.error();
    auto out = agreementOf(*source, request, progress);
    if (out && request.apply && !out->drawn.empty())
        if (const auto applied = applyTo(request.job, *out); !applied)
            return applied.error();
    return out;
}

Result<Agreed> agreementOf(const PictureSource &source, const AgreeRequest &request, const Progress &progress)
{
    if (!(request.give >= 0 && request.give <= 1))
        return unusable("--give: {give:2} is no share from 0 to 1", {{"give", request.give}});
    auto sides = sidesOf(source);
    if (sides.size() < 2)
        return unusable("{job}: fewer than two stations have a chart of known colours with a calibration",
                        {{"job", request.job.string()}});
    Agreed out;
    for (auto &side : sides) {
        out.agreement.stations.push_back(side.station->name);
        for (const auto id : side.station->frames) {
            if (progress.stopped())
                return unusable("{job}: stopped", {{"job", request.job.string()}});
            const auto &row = *source.state().frame(id);
            if (row.part == FramePart::Product && !row.setAside && !addThings(side, source, row))
                out.unread.push_back(row.path);
        }
    }
    auto &agreement = out.agreement;
    agreement.patches = patchesOf(sides);
    agreement.objects = objectsOf(sides);
    agreement.patchesMean = meanSpread(agreement.patches);
    agreement.objectsMean = meanSpread(agreement.objects);
    agreement.worst = worstOf(agreement, sides);
    if (request.drawTogether)
        if (const auto drawn = draw(out, sides, source.state(), request, progress); !drawn)
            return drawn.error();
    if (!request.out.empty() && !out.drawn.empty())
        if (const auto saved = saveApart(request.out, out.drawn); !saved)
            return saved.error();
    return out;
}

} // namespace wavechroma
