// Drawing stations together against fits apart of the same parts: three bodies, each under five lamps, one
// chart frame a station, 72 objects of which the stations share half; spread and error are of the other half,
// which no fit has seen. Prints the whole curve of cost against gain. wavechroma-bench-draw [shoots] [first
// seed] [parts: matrix or roots] [any: sensors and lamps of every kind] [give] [objects shared]
#include "bench/guard.h"
#include "bench/unseen.h"
#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/fit/draw_together.h"
#include "core/fit/fit.h"

#include <cstdlib>
#include <fmt/format.h>

using namespace wavechroma;
using namespace wavechroma::bench;

namespace {

struct Place
{
    Reading reading;
    Calibration own;
    std::vector<CameraRgb> objects;
};

Place stationOf(const sim::Camera &camera, const sim::Lamp &lamp, const std::vector<Unseen> &objects,
                const FitOptions &options, uint64_t seed)
{
    const Body body{camera, lamp, {}};
    Place out;
    out.reading = readingOf(body, Trouble::None, seed);
    out.own = *fitCalibration(out.reading, chart(), options);
    for (const auto &object : objects) {
        const auto rgb = seen(body, object.reflectance);
        out.objects.push_back({rgb[0], rgb[1], rgb[2]});
    }
    return out;
}

struct Sum
{
    double spread = 0, error = 0;
};

/// Of the objects from `from` on.
Sum judged(const std::vector<Place> &stations, const std::vector<ColorModel> &models,
           const std::vector<Unseen> &objects, size_t from)
{
    Sum out;
    int pairs = 0, all = 0;
    for (size_t k = from; k < objects.size(); ++k) {
        std::vector<Lab> labs;
        for (size_t s = 0; s < stations.size(); ++s) {
            labs.push_back(labFromXyz(xyzFromCamera(models[s], stations[s].objects[k])));
            out.error += de2000(labs.back(), objects[k].lab);
            ++all;
            for (size_t r = 0; r < s; ++r, ++pairs)
                out.spread += de2000(labs[s], labs[r]);
        }
    }
    return {out.spread / pairs, out.error / all};
}

DrawnStation drawn(const Place &place, const FitOptions &options)
{
    DrawnStation out;
    out.patches = place.own.patches;
    out.fit = [&place, options](const std::set<std::string> &without) -> std::optional<ColorModel> {
        auto less = options;
        less.without.assign(without.begin(), without.end());
        const auto fitted = fitCalibration(place.reading, chart(), less);
        return fitted ? std::optional<ColorModel>(*fitted) : std::nullopt;
    };
    return out;
}

} // namespace

int main(int argc, char **argv)
{
    const int shoots = argc > 1 ? std::atoi(argv[1]) : 10;
    const auto first = uint64_t(argc > 2 ? std::atoll(argv[2]) : 6000000);
    FitOptions options;
    options.parts = {argc > 3 ? argv[3] : "matrix", "as-shot"};
    options.crossValidate = false;
    const bool isAny = argc > 4 && std::string_view(argv[4]) == "any";
    const double give = argc > 5 ? std::atof(argv[5]) : 0.03;
    const auto objects = unseenColours(72);
    const size_t shared = argc > 6 ? size_t(std::atoi(argv[6])) : objects.size() / 2;
    Sum apart, together;
    double foretold = 0;
    for (int i = 0; i < shoots; ++i) {
        const uint64_t seed = first + uint64_t(i) * 104729;
        std::vector<Place> stations;
        for (uint64_t body = 0; body < 3; ++body)
            for (uint64_t light = 0; light < 5; ++light)
                stations.push_back(stationOf(isAny ? anySensor(seed + body) : randomCamera(seed + body),
                                             isAny ? anyLamp(seed + 5 * body + light) : sim::lamps()[light],
                                             objects, options, seed + 5 * body + light));
        std::vector<DrawnStation> asked;
        std::vector<ColorModel> own;
        for (const auto &station : stations) {
            asked.push_back(drawn(station, options));
            own.push_back(station.own);
        }
        std::vector<SharedThing> things;
        for (size_t k = 0; k < shared; ++k) {
            SharedThing thing{"object " + std::to_string(k), {}};
            for (const auto &station : stations)
                thing.rgb.emplace_back(station.objects[k]);
            things.push_back(thing);
        }
        const auto result = drawTogether(asked, things, give);
        if (!result) {
            fmt::print("{}\n", result.error().message);
            return 1;
        }
        const auto before = judged(stations, own, objects, objects.size() / 2),
                   after = judged(stations, result->models, objects, objects.size() / 2);
        fmt::print("shoot {}: spread {:.3f} -> {:.3f} ({:.3f}), error {:.3f} -> {:.3f} ({:.3f}); weight "
                   "{:g}, told {:.3f}\n",
                   seed, before.spread, after.spread, after.spread / before.spread, before.error, after.error,
                   after.error / before.error, result->weight, result->after / result->before);
        for (const auto &step : result->curve)
            fmt::print("   weight {:5g}: spread {:.3f}, gives up {:+.3f} at most\n", step.weight,
                       step.spread / result->before, step.most);
        apart.spread += before.spread;
        apart.error += before.error;
        together.spread += after.spread;
        together.error += after.error;
        foretold += result->after / result->before / shoots;
    }
    fmt::print("unseen objects: spread {:.3f}, error {:.3f} of separate fits; told beforehand {:.3f}\n",
               together.spread / apart.spread, together.error / apart.error, foretold);
    Guard guard("draw");
    guard.figure("spread of unseen objects, drawn together over apart", together.spread / apart.spread);
    guard.figure("error to truth, drawn together over apart", together.error / apart.error);
    return guard.status();
}
