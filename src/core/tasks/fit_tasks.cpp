#include "core/fit/merge_readings.h"
#include "core/fit/two_lights.h"
#include "core/fit/weights.h"
#include "core/formats/documents.h"
#include "core/formats/json_fields.h"
#include "core/formats/names.h"
#include "core/formats/whole_file.h"
#include "core/tasks/camera_match.h"
#include "core/tasks/chart_tasks.h"

#include <cmath>

namespace wavechroma {

namespace {

constexpr double kOneLight = 0.06;

struct Prepared
{
    ChartDefinition chart;
    FitOptions options;
    bool toCamera = false;
};

Result<Prepared> prepared(const Reading &reading, const FitRequest &request)
{
    const auto chart = referencesOf(reading, request.reference);
    if (!chart)
        return chart.error();
    Prepared out{*chart, {}, request.reference && isCameraReference(*request.reference)};
    out.options.model = request.model;
    out.options.without = request.without;
    out.options.crossValidate = !request.preview;
    out.options.character = request.character;
    out.options.appearance = request.appearance;
    out.options.curvesPerChannel = out.toCamera || isRendered(reading);
    out.options.flare = !out.toCamera; // a veil cannot be told from the other one's tone
    out.options.light = request.told;
    if (!request.lights.empty()) {
        const auto light = lightNamed(request.lights.front());
        if (!light)
            return light.error();
        out.options.light = *light;
    }
    if (!request.weights.empty()) {
        const auto weights = weightsFrom(request.weights, *chart);
        if (!weights)
            return weights.error();
        out.options.weights = *weights;
    }
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

void complete(Calibration &calibration, const std::vector<SourceFrame> &sources, const Reading &reading,
              const FitRequest &request, const Prepared &prepared)
{
    calibration.madeFrom = sources;
    calibration.madeWith = "Wavechroma " WAVECHROMA_VERSION;
    calibration.name = request.name.empty() ? composedName(calibration, request.setup) : request.name;
    if (prepared.toCamera)
        calibration.warnings = warningsOfMatch(reading, prepared.chart);
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
};

Result<std::vector<Group>> groupsOf(const std::vector<Reading> &readings, const FitRequest &request)
{
    const bool each = request.lights.size() == readings.size() && readings.size() > 1;
    if (!each && request.lights.size() > 1)
        return unusable("give one --light for all readings, or one for each");
    std::vector<Group> groups;
    for (size_t i = 0; i < readings.size(); ++i) {
        const auto chart = chartOf(readings[i]);
        if (!chart)
            return chart.error();
        const auto neutral = neutralIn(readings[i], *chart);
        if (!neutral && readings.size() > 1)
            return unusable(readings[i].image + ": has no usable neutral to tell its light by");
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
        return unusable("the readings are of " + std::to_string(groups.size()) +
                        " lights, but one --light is given; give one for each reading");
    return groups;
}

Result<Calibration> fitGroup(const Group &group, const FitRequest &request)
{
    FitRequest one = request;
    one.lights = group.light.empty() ? std::vector<std::string>() : std::vector{group.light};
    for (size_t i = 1; i < group.readings.size(); ++i)
        one.with.push_back({group.readings[i]});
    return fitReading(group.readings.front(), one);
}

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

} // namespace

/// What nothing could be told apart by is answered with the plain model.
static Result<Calibration> fitRecommended(const Reading &reading, const FitRequest &request)
{
    FitRequest plain = request;
    plain.model = "matrix";
    if (request.preview)
        return fitReading(reading, plain);
    auto all = fitAllOf(reading, request);
    if (!all)
        return all.error();
    return all->empty() ? fitReading(reading, plain)
                        : std::move((*all)[recommendationOf(*all, reading).index]);
}

Result<Calibration> fitReading(const Reading &reading, const FitRequest &request)
{
    if (request.model == kRecommended)
        return fitRecommended(reading, request);
    const auto whole = withOthers(reading, request);
    const auto start = whole ? prepared(*whole, request) : Result<Prepared>(whole.error());
    if (!start)
        return start.error();
    auto calibration = fitCalibration(*whole, start->chart, start->options);
    if (calibration)
        complete(*calibration, sourcesOf(*whole, request), *whole, request, *start);
    return calibration;
}

Result<std::vector<Calibration>> fitAllOf(const Reading &reading, const FitRequest &request,
                                          const Progress &progress)
{
    const auto whole = withOthers(reading, request);
    const auto start = whole ? prepared(*whole, request) : Result<Prepared>(whole.error());
    if (!start)
        return start.error();
    auto all = fitAllModels(*whole, start->chart, start->options, progress);
    if (!all || all->empty())
        return all;
    const auto sources = sourcesOf(*whole, request); // frames are hashed once
    for (auto &calibration : *all)
        complete(calibration, sources, *whole, request, *start);
    return all;
}

Result<Calibration> fitReadings(const std::vector<Reading> &readings, const FitRequest &request)
{
    const auto groups = groupsOf(readings, request);
    if (!groups)
        return groups.error();
    std::vector<Calibration> fitted;
    std::vector<Vector3> neutrals;
    FitRequest each = request;
    for (const auto &group : *groups) {
        auto calibration = fitGroup(group, each);
        if (!calibration || groups->size() == 1)
            return calibration;
        each.model = calibration->model; // lights joined are of one model: the first light's
        fitted.push_back(*calibration);
        neutrals.push_back(group.neutral);
    }
    auto joined = joinedLights(fitted, neutrals);
    if (joined && request.name.empty()) {
        std::string lights;
        for (const auto &light : joined->lights)
            lights += (lights.empty() ? "" : " to ") + light.light.name;
        Calibration named = *joined;
        named.light.name = lights;
        joined->name = composedName(named, request.setup);
    }
    return joined;
}

} // namespace wavechroma
