// Do the stations of a shoot agree? Two bodies under two lamps each, one chart frame a station, 72 objects
// that no fit has seen: how far each object's colours spread over the four stations, and how far they are
// from the truth, with parts chosen for each reading alone, one choice for the whole job, and one crossing
// everywhere; beside a 3×3 of each station trained on its chart without noise, and the best one for those
// very objects. wavechroma-bench-spread [shoots] [first seed] [any: sensors and lamps of every kind in place
// of usual ones]
#include "bench/guard.h"
#include "bench/unseen.h"
#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/fit/fit.h"
#include "core/fit/fit_matrix.h"
#include "core/fit/recommend.h"
#include "core/station/stations.h"

#include <cstdlib>
#include <fmt/format.h>
#include <functional>
#include <map>

using namespace wavechroma;
using namespace wavechroma::bench;

namespace {

struct Place
{
    Reading reading;
    std::vector<Calibration> plane;
    size_t own = 0;                 ///< what is recommended for this reading alone
    std::vector<CameraRgb> objects; ///< as this station sees them
    Matrix3 oracle, chartOracle;
};

using Colours = std::vector<Lab>;

Place stationOf(const sim::Camera &camera, const sim::Lamp &lamp, const std::vector<Unseen> &objects,
                uint64_t seed)
{
    const Body body{camera, lamp, {}};
    Place out;
    out.reading = readingOf(body, Trouble::None, seed);
    out.plane = *fitPlane(out.reading, chart());
    out.own = recommendationOf(out.plane, out.reading).index;
    std::vector<FittedPatch> truth;
    for (const auto &object : objects) {
        const auto rgb = seen(body, object.reflectance);
        out.objects.push_back({rgb[0], rgb[1], rgb[2]});
        truth.push_back({"", out.objects.back(), xyzFromLab(object.lab)});
    }
    out.oracle = fitLinear(truth)->xyzFromCamera;
    std::vector<FittedPatch> clean;
    const auto reflectances = sim::chartReflectances(chart());
    for (size_t i = 0; i < reflectances.size(); ++i) {
        const auto rgb = seen(body, reflectances[i]);
        clean.push_back({"", {rgb[0], rgb[1], rgb[2]}, chart().patches[i].reference});
    }
    out.chartOracle = fitLinear(clean)->xyzFromCamera;
    return out;
}

Colours coloursBy(const Place &station, const Calibration &calibration)
{
    Colours out;
    for (const auto &rgb : station.objects)
        out.push_back(labFromXyz(xyzFromCamera(calibration, rgb)));
    return out;
}

struct Sum
{
    double spread = 0, error = 0;
};

Sum judged(const std::vector<Colours> &stations, const std::vector<Unseen> &objects)
{
    Sum out;
    int pairs = 0, all = 0;
    for (size_t k = 0; k < objects.size(); ++k)
        for (size_t i = 0; i < stations.size(); ++i) {
            out.error += de2000(stations[i][k], objects[k].lab);
            ++all;
            for (size_t j = 0; j < i; ++j, ++pairs)
                out.spread += de2000(stations[i][k], stations[j][k]);
        }
    out.spread /= pairs;
    out.error /= all;
    return out;
}

const Calibration &withParts(const Place &station, const Parts &parts)
{
    for (const auto &c : station.plane)
        if (c.parts == parts)
            return c;
    return station.plane[station.own];
}

} // namespace

int main(int argc, char **argv)
{
    const int shoots = argc > 1 ? std::atoi(argv[1]) : 30;
    const auto first = uint64_t(argc > 2 ? std::atoll(argv[2]) : 5000000);
    const bool isAny = argc > 3;
    const auto objects = unseenColours(72);
    std::map<std::string, Sum> sums;
    for (int i = 0; i < shoots; ++i) {
        const uint64_t seed = first + uint64_t(i) * 10;
        sim::Random random(seed);
        std::vector<Place> stations;
        for (int body = 0; body < 2; ++body) {
            const auto camera =
                isAny ? anySensor(seed + uint64_t(body)) : randomCamera(seed + uint64_t(body));
            const auto lamp = random.below(5);
            for (int light = 0; light < 2; ++light)
                stations.push_back(stationOf(camera,
                                             isAny ? anyLamp(seed + uint64_t(2 * body + light))
                                                   : sim::lamps()[size_t((lamp + light * 2) % 5)],
                                             objects, seed + uint64_t(2 * body + light)));
        }
        const auto add = [&](const std::string &name, const std::function<Colours(const Place &)> &colours) {
            std::vector<Colours> all;
            for (const auto &station : stations)
                all.push_back(colours(station));
            const auto sum = judged(all, objects);
            sums[name].spread += sum.spread;
            sums[name].error += sum.error;
        };
        add("best 3x3", [&](const Place &s) {
            Colours out;
            for (const auto &rgb : s.objects)
                out.push_back(labFromXyz(xyzOf(s.oracle * vectorOf(rgb))));
            return out;
        });
        add("chart 3x3", [&](const Place &s) {
            Colours out;
            for (const auto &rgb : s.objects)
                out.push_back(labFromXyz(xyzOf(s.chartOracle * vectorOf(rgb))));
            return out;
        });
        add("each alone", [&](const Place &s) { return coloursBy(s, s.plane[s.own]); });
        for (const char *colour : {"matrix", "roots", "field"})
            add(std::string(colour) + " everywhere", [&](const Place &s) {
                return coloursBy(s, withParts(s, {colour, "as-shot"}));
            });
        JobState job; // with what a job keeps of them
        for (const auto &station : stations) {
            JobFrame frame;
            frame.id = nextId(job);
            frame.part = FramePart::Chart;
            JobChange change;
            change.frames.push_back({std::nullopt, frame});
            RowId next = frame.id + 1;
            for (const auto &c : station.plane) {
                auto row = jobCalibration(next++, frame.id, c, &c == &station.plane[station.own], nullptr);
                row.brief.isSound = mayBeRecommended(c, station.reading);
                change.calibrations.push_back({std::nullopt, row});
            }
            apply(job, change);
        }
        size_t at = 0;
        add("one for the job",
            [&](const Place &s) { return coloursBy(s, withParts(s, partsFor(job, job.frames[at++].id))); });
    }
    for (const auto &[name, sum] : sums)
        fmt::print("{:24} spread {:.3f} ({:.3f}), error {:.3f} ({:.3f})\n", name, sum.spread / shoots,
                   sum.spread / sums["chart 3x3"].spread, sum.error / shoots,
                   sum.error / sums["chart 3x3"].error);
    Guard guard("spread");
    guard.figure("spread over a matrix of noiseless charts",
                 sums["one for the job"].spread / sums["chart 3x3"].spread);
    guard.figure("error over it", sums["one for the job"].error / sums["chart 3x3"].error);
    return guard.status();
}
