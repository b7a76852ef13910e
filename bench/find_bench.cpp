// Random frames with and without a chart: share found, corner error, patch error, search time. Seeds from the
// command line: wavechroma-bench-find [frames] [first seed] [hard]. `hard` goes past what the search
// promises: tilts to 45°, blur, light that falls off by half, four stops of exposure, ISO 6400, patches
// printed smaller or larger.
#include "core/measure/read_chart.h"
#include "core/sim/frame_in_memory.h"
#include "core/sim/random.h"
#include "core/sim/random_scene.h"
#include "quantile.h"

#include <algorithm>
#include <chrono>
#include <cmath>
#include <cstdlib>
#include <fmt/format.h>

using namespace wavechroma;

namespace {

struct Tally
{
    int frames = 0, found = 0, right = 0;
    std::vector<double> corner, patch, milliseconds;
};

void judge(const Reading &reading, const sim::ChartTruth &truth, const ChartDefinition &chart, Tally &tally)
{
    const double pitch = pitchPixels(chart, *homographyFrom(chart, truth.corners));
    double worst = 0;
    for (size_t i = 0; i < 4; ++i)
        worst = std::max(worst, std::hypot(reading.corners[i].x - truth.corners[i].x,
                                           reading.corners[i].y - truth.corners[i].y) /
                                    pitch);
    tally.corner.push_back(worst);
    tally.right += worst < 0.5;
    for (size_t i = 0; i < truth.patches.size(); ++i)
        for (size_t c = 0; c < 3; ++c)
            if (truth.patches[i][c] < 0.97) // saturated patches have no true value to compare with
                tally.patch.push_back(
                    std::abs(vectorOf(reading.patches[i].mean)[c] / truth.patches[i][c] - 1));
}

} // namespace

int main(int argc, char **argv)
{
    const int frames = argc > 1 ? std::atoi(argv[1]) : 60;
    const uint64_t firstSeed = argc > 2 ? std::strtoull(argv[2], nullptr, 10) : 5000;
    const bool hard = argc > 3;
    const auto chart = chartCatalogue().front();
    Tally with;
    int without = 0, falseFinds = 0;
    for (int i = 0; i < frames; ++i) {
        const uint64_t seed = firstSeed + uint64_t(i);
        sim::Random random(seed * 7919);
        const auto &camera = sim::cameras()[size_t(random.below(3))];
        const auto &lamp = sim::lamps()[size_t(random.below(5))];
        sim::Shot shot;
        shot.width = 3000;
        shot.height = 2000;
        shot.exposure = random.uniform(0.35, 0.85);
        shot.iso = 100 << random.below(5);
        shot.seed = seed;
        shot.filterShiftX = random.below(2);
        shot.filterShiftY = random.below(2);
        sim::SceneRecipe recipe{seed, shot.width, shot.height, i % 4 != 3};
        if (hard) {
            recipe.mostTilt = 45;
            recipe.mostBlur = 3;
            recipe.mostGradient = 0.5;
            recipe.leastPatch = 0.88;
            recipe.mostPatch = 1.08;
            shot.exposure = random.uniform(0.08, 1.25);
            shot.iso = 100 << random.below(7);
        }
        auto exposed = sim::expose(sim::randomScene(recipe), camera, lamp, shot);
        const auto truths = exposed.charts;
        const auto frame = sim::rawFrameOf(std::move(exposed));
        const auto start = std::chrono::steady_clock::now();
        const auto reading = readChart(frame, chart);
        const double ms =
            std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start).count();
        if (truths.empty()) {
            ++without;
            falseFinds += reading->found;
            if (reading->found)
                fmt::print("seed {}: found a chart where there is none, confidence {:.2f}\n", seed,
                           reading->confidence);
            continue;
        }
        ++with.frames;
        with.milliseconds.push_back(ms);
        with.found += reading->found;
        if (reading->found) {
            judge(*reading, truths[0], chart, with);
            if (with.corner.back() > 0.05)
                fmt::print("seed {}: corners off by {:.3f} of a pitch\n", seed, with.corner.back());
        } else {
            const double width = std::hypot(truths[0].corners[1].x - truths[0].corners[0].x,
                                            truths[0].corners[1].y - truths[0].corners[0].y);
            fmt::print("seed {}: missed ({}, {}, {:.0f} px wide, ISO {})\n", seed, camera.model, lamp.name,
                       width, shot.iso);
        }
    }
    fmt::print("with chart: {} of {} found, {} at the right place and turn\n", with.found, with.frames,
               with.right);
    fmt::print("without: {} of {} wrongly found\n", falseFinds, without);
    fmt::print("worst corner, pitches: median {:.4f}, 95 % {:.4f}\n", quantile(with.corner, 0.5),
               quantile(with.corner, 0.95));
    fmt::print("patch value error: median {:.3f} %, 95 % {:.3f} %\n", 100 * quantile(with.patch, 0.5),
               100 * quantile(with.patch, 0.95));
    fmt::print("search and read: median {:.0f} ms, most {:.0f} ms\n", quantile(with.milliseconds, 0.5),
               quantile(with.milliseconds, 1));
}
