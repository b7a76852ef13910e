// One camera fitted to another: for each pair of bodies under each lamp, the follower is trained on one noisy
// reading of the 24 patches with the leader's reading as its reference, and both are judged on 320 surfaces
// that neither fit saw. Beside it, both with nothing but their white balance: by each file's own colour
// matrix, and by channels alone (read as linear sRGB). The bound is a smooth map trained on 1 500 other
// surfaces: what two bodies see differently beyond it, no map of colours brings together.
// wavechroma-bench-match [seeds] [ripple of the surfaces: 0.12 as strong pigments, 0.03 as most paints]
#include "bench/unseen.h"
#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/fit/fit.h"
#include "core/fit/fit_matrix.h"
#include "core/fit/part_field.h"
#include "core/fit/recommend.h"
#include "core/formats/documents.h"
#include "core/tasks/camera_match.h"

#include <cstdlib>
#include <fmt/format.h>
#include <map>

using namespace wavechroma;
using namespace wavechroma::bench;

namespace {

std::string nameOf(const Parts &parts)
{
    return parts.tone == "as-shot" ? parts.colour : parts.colour + "/" + parts.tone;
}

Reading rawReading(const Body &body, uint64_t seed, bool withMatrix)
{
    auto reading = readingOf(body, Trouble::None, seed);
    reading.image = body.camera.model + ".dng";
    if (withMatrix)
        reading.fileColor.matrices = {{sim::publishedColorMatrix(body.camera), 21}};
    return reading;
}

ColorModel balanceOf(const Reading &reading)
{
    FitOptions options;
    options.parts = {"balance", "as-shot"};
    options.crossValidate = false;
    return *fitCalibration(reading, chart(), options);
}

/// The smooth map, over the follower's best matrix on those surfaces.
ColorModel boundOf(const Body &leader, const ColorModel &shown, const Body &follower,
                   const std::vector<Unseen> &many)
{
    std::vector<FittedPatch> patches;
    for (const auto &surface : many) {
        const auto a = seen(leader, surface.reflectance), b = seen(follower, surface.reflectance);
        patches.push_back({"", {b[0], b[1], b[2]}, xyzFromCamera(shown, {a[0], a[1], a[2]})});
    }
    auto out = *splitAtWhite(*fitLinear(patches));
    FieldStrength generous{1, 20, 1};
    out.bends = {{&fieldBending(), numbersOf(fitField(patches, out, generous))}};
    return out;
}

double between(const Body &leader, const ColorModel &one, const Body &follower, const ColorModel &other,
               const std::vector<Unseen> &unseen)
{
    double sum = 0;
    for (const auto &surface : unseen) {
        const auto a = seen(leader, surface.reflectance), b = seen(follower, surface.reflectance);
        sum += de2000(labFromXyz(xyzFromCamera(one, {a[0], a[1], a[2]})),
                      labFromXyz(xyzFromCamera(other, {b[0], b[1], b[2]})));
    }
    return sum / double(unseen.size());
}

} // namespace

int main(int argc, char **argv)
{
    const int seeds = argc > 1 ? std::atoi(argv[1]) : 2;
    const double ripple = argc > 2 ? std::atof(argv[2]) : 0.12;
    const auto unseen = unseenColours(320, ripple);
    auto many = unseenColours(1820, ripple);
    many.erase(many.begin(), many.begin() + 320); // the same sequence: the first are those judged by
    fmt::print("{:12} → {:12} {:9} {:>9} {:>9} {:>9}", "follower", "leader", "lamp", "channels", "matrices",
               "bound");
    for (const auto &parts : crossings(true))
        fmt::print(" {:>16}", nameOf(parts));
    fmt::print("  recommended\n");
    std::map<std::string, double> sums;
    int count = 0;
    for (const auto &follower : sim::cameras())
        for (const auto &leader : sim::cameras())
            for (const auto &lamp : sim::lamps()) {
                if (&follower == &leader)
                    continue;
                const Body first{leader, lamp, {}}, second{follower, lamp, {}};
                std::map<std::string, double> row;
                std::string chosen;
                for (int seed = 1; seed <= seeds; ++seed) {
                    const auto reference = rawReading(first, uint64_t(seed), true),
                               reading = rawReading(second, uint64_t(100 + seed), true);
                    const auto shown = balanceOf(reference);
                    row["channels"] +=
                        between(first, balanceOf(rawReading(first, uint64_t(seed), false)), second,
                                balanceOf(rawReading(second, uint64_t(100 + seed), false)), unseen) /
                        seeds;
                    row["matrices"] += between(first, shown, second, balanceOf(reading), unseen) / seeds;
                    FitOptions options;
                    options.eachChannel = true;
                    options.flare = false;
                    const auto all = *fitPlane(
                        reading, *withCameraReferences(chart(), documentOf(reference), "leader"), options);
                    const auto choice = recommendationOf(all, reading);
                    chosen = nameOf(choice.parts);
                    for (size_t i = 0; i < all.size(); ++i) {
                        const double off = between(first, shown, second, all[i], unseen) / seeds;
                        row[nameOf(all[i].parts)] += off;
                        if (i == choice.index)
                            row["recommended"] += off;
                    }
                }
                const auto whole = balanceOf(rawReading(first, 1, true));
                row["bound"] = between(first, whole, second, boundOf(first, whole, second, many), unseen);
                fmt::print("{:12} → {:12} {:9} {:9.3f} {:9.3f} {:9.3f}", follower.model, leader.model,
                           lamp.name, row["channels"], row["matrices"], row["bound"]);
                for (const auto &parts : crossings(true))
                    fmt::print(" {:16.3f}", row[nameOf(parts)]);
                fmt::print("  {:.3f} {}\n", row["recommended"], chosen);
                for (const auto &[name, value] : row)
                    sums[name] += value;
                ++count;
            }
    for (const auto &[name, sum] : sums)
        fmt::print("{:18} {:.3f}\n", name, sum / count);
}
