// Does what stands still in two frames tell that the light changed? Simulated sets: a table and a backdrop of
// any colour, things that stay, go, come and move between the frame of the chart and that of the product, by
// random bodies under each lamp. A quarter of them under the same light (which flickers by 1 %), a quarter of
// another picture altogether under it (a detail, a cloth that fills the frame), a quarter under another
// colour of light (30 to 250 mired), a quarter with 10 % to two stops more or less of it.
// wavechroma-bench-light [sets] [first seed]
#include "bench/guard.h"
#include "bench/unseen.h"
#include "core/capture/set_look.h"
#include "core/sim/frame_in_memory.h"

#include <fmt/format.h>

using namespace wavechroma;
using namespace wavechroma::bench;

namespace {

constexpr double kWidth = 600, kHeight = 400;

Lab anyColour(sim::Random &random, double mostChroma)
{
    const double hue = random.uniform(0, 6.2832), chroma = mostChroma * random.uniform(0, 1);
    return {random.uniform(22, 90), chroma * std::cos(hue), chroma * std::sin(hue)};
}

struct Thing
{
    double x, y, width, height;
    Lab colour;
    uint64_t seed;
};

Thing anyThing(sim::Random &random)
{
    return {random.uniform(-0.05, 0.9) * kWidth,
            random.uniform(-0.05, 0.85) * kHeight,
            random.uniform(0.05, 0.4) * kWidth,
            random.uniform(0.05, 0.5) * kHeight,
            anyColour(random, 60),
            random.next()};
}

struct Set
{
    Lab backdrop, table;
    double horizon; ///< share of the height
    double gradient;
    uint64_t seed;
};

void lay(sim::Scene &scene, double x0, double y0, double x1, double y1, const Lab &colour, uint64_t seed)
{
    if (const auto reflectance = sim::reflectanceOf(colour, seed, 0.08))
        scene.things.push_back(
            sim::Polygon{{{x0, y0}, {x1, y0}, {x1, y1}, {x0, y1}}, addMaterial(scene, *reflectance, 0.03)});
}

sim::Scene sceneOf(const Set &set, const std::vector<Thing> &things)
{
    sim::Scene scene;
    scene.gradientX = set.gradient;
    scene.blurPixels = 0.5;
    scene.background = addMaterial(scene, sim::flatReflectance(0.4));
    lay(scene, -1, -1, kWidth + 1, set.horizon * kHeight, set.backdrop, set.seed);
    lay(scene, -1, set.horizon * kHeight, kWidth + 1, kHeight + 1, set.table, set.seed + 1);
    for (const auto &thing : things)
        lay(scene, thing.x, thing.y, thing.x + thing.width, thing.y + thing.height, thing.colour, thing.seed);
    return scene;
}

/// Things of the second frame: some stay, some go or move, and others come.
std::vector<Thing> after(const std::vector<Thing> &before, sim::Random &random)
{
    std::vector<Thing> out;
    for (auto thing : before) {
        const double fate = random.uniform(0, 1);
        if (fate < 0.3)
            continue;
        if (fate < 0.5)
            thing.x += random.uniform(-0.1, 0.1) * kWidth;
        out.push_back(thing);
    }
    const int come = int(random.below(6));
    for (int i = 0; i < come; ++i)
        out.push_back(anyThing(random));
    return out;
}

double warmthOf(const sim::Camera &camera, const sim::Lamp &lamp)
{
    const auto white = sim::response(camera, camera.lenses[0], lamp.spectrum, sim::flatReflectance(1));
    return std::log2(white[0] / white[2]);
}

sim::Lamp tilted(sim::Lamp lamp, double power)
{
    for (size_t i = 0; i < lamp.spectrum.values.size(); ++i)
        lamp.spectrum.values[i] *=
            std::pow((lamp.spectrum.startNm + lamp.spectrum.stepNm * double(i)) / 560, power);
    return lamp;
}

enum class Change { None, Picture, Colour, Level };

struct Count
{
    int all = 0, told = 0, silent = 0; ///< silent: too little in common
};

} // namespace

int main(int argc, char **argv)
{
    const int sets = argc > 1 ? std::atoi(argv[1]) : 200;
    const auto first = uint64_t(argc > 2 ? std::atoll(argv[2]) : 9001);
    Count counts[4];
    for (int i = 0; i < sets; ++i) {
        const uint64_t seed = first + uint64_t(i);
        sim::Random random(seed * 104729 + 3);
        const auto camera = randomCamera(seed);
        const auto &lamp = sim::lamps()[random.below(sim::lamps().size())];
        const Set set{anyColour(random, 25), anyColour(random, 40), random.uniform(0.2, 0.9),
                      random.uniform(-0.15, 0.15), random.next()};
        std::vector<Thing> things;
        const int count = 2 + int(random.below(6));
        for (int k = 0; k < count; ++k)
            things.push_back(anyThing(random));
        const auto change = Change(i % 4);
        auto other = lamp;
        double level = random.uniform(-0.015, 0.015);
        if (change == Change::Colour) {
            const double wanted = random.uniform(30, 250) * (random.below(2) ? 1 : -1) * 0.0108;
            double power = 0;
            for (int round = 0; round < 12; ++round) // the tilt that gives it, by this body
                power += 1.5 * (wanted - (warmthOf(camera, tilted(lamp, power)) - warmthOf(camera, lamp)));
            other = tilted(lamp, power);
        }
        if (change == Change::Level)
            level = random.uniform(0.14, 2) * (random.below(3) ? -1 : 1);
        auto second = set;
        auto there = after(things, random);
        if (change == Change::Picture) {
            second = {anyColour(random, 40), anyColour(random, 40),
                      random.below(2) ? 1.1 : random.uniform(0.2, 0.9), set.gradient, random.next()};
            there = after({}, random);
        }
        sim::Shot shot;
        shot.width = int(kWidth);
        shot.height = int(kHeight);
        shot.exposure = 0.55;
        shot.seed = seed * 2;
        const auto chart = setLookOf(sim::rawFrameOf(sim::expose(sceneOf(set, things), camera, lamp, shot)));
        shot.exposure *= std::exp2(level);
        shot.seed = seed * 2 + 1;
        const auto product =
            setLookOf(sim::rawFrameOf(sim::expose(sceneOf(second, there), camera, other, shot)));
        const auto told = lightChange(chart, product, 0.0);
        auto &here = counts[size_t(change)];
        ++here.all;
        here.told += told && told->visible.any();
        here.silent += !told;
    }
    const char *names[] = {"same light", "other picture", "other colour", "other level"};
    for (size_t k = 0; k < 4; ++k)
        fmt::print("{:13} {:4} sets: told {:5.1f} %, too little in common {:5.1f} %\n", names[k],
                   counts[k].all, 100.0 * counts[k].told / counts[k].all,
                   100.0 * counts[k].silent / counts[k].all);
    Guard guard("light");
    guard.figure("false alarms", double(counts[0].told) / counts[0].all);
    guard.figure("false alarms, other picture", double(counts[1].told) / counts[1].all);
    guard.figure("other colour told", double(counts[2].told) / counts[2].all);
    guard.figure("other level told", double(counts[3].told) / counts[3].all);
    return guard.status();
}
