// Every crossing on unseen colours: for each camera under each lamp, all trained on one noisy reading of
// 24 patches and judged on 320 reflectances that no fit saw, beside plain weighted least squares, the best
// 3×3 for those very reflectances, and a smooth map trained on 1 500 others. Also: what cross-validation
// foretold, and which crossing is recommended. wavechroma-bench-model [seeds] [first seed] [this many random
// bodies in place of the studio's] [verbose]
#include "bench/unseen.h"
#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/fit/fit.h"
#include "core/fit/fit_matrix.h"
#include "core/fit/part_field.h"
#include "core/fit/recommend.h"

#include <chrono>
#include <cstdlib>
#include <fmt/format.h>
#include <functional>

using namespace wavechroma;
using namespace wavechroma::bench;

namespace {

std::string nameOf(const Parts &parts)
{
    return parts.tone == "as-shot" ? parts.colour : parts.colour + "/" + parts.tone;
}

using Map = std::function<Xyz(const CameraRgb &)>;

std::vector<FittedPatch> patchesOf(const Body &body, const std::vector<Unseen> &colours)
{
    std::vector<FittedPatch> out;
    for (size_t i = 0; i < colours.size(); ++i) {
        const auto rgb = seen(body, colours[i].reflectance);
        out.push_back({std::to_string(i), {rgb[0], rgb[1], rgb[2]}, xyzFromLab(colours[i].lab)});
    }
    return out;
}

ErrorSummary judged(const std::vector<FittedPatch> &unseen, const Map &map)
{
    std::vector<double> errors;
    for (const auto &one : unseen)
        errors.push_back(de2000(labFromXyz(map(one.rgb)), labFromXyz(one.reference)));
    return summaryOf(errors);
}

/// The 140-patch chart as this camera sees it: an unseen chart, of other pigments than the one trained on.
std::vector<FittedPatch> chart140(const Body &body)
{
    const auto definition = *chartFromCatalogue("field-140");
    const auto reflectances = sim::chartReflectances(definition, 140);
    std::vector<FittedPatch> out;
    for (size_t i = 0; i < reflectances.size(); ++i) {
        const auto rgb = seen(body, reflectances[i]);
        out.push_back({definition.patches[i].id, {rgb[0], rgb[1], rgb[2]}, definition.patches[i].reference});
    }
    return out;
}

struct Row
{
    double on140 = 0;
    double mean = 0, p95 = 0, most = 0, toSquares = 0, worstToSquares = 0, foretold = 0, missed = 0,
           missedUnseen = 0;
    int count = 0;
    void add(const ErrorSummary &e, double squares, double crossValidated, double other)
    {
        on140 += other;
        mean += e.mean;
        p95 += e.p95;
        most += e.max;
        toSquares += e.mean / squares;
        worstToSquares = std::max(worstToSquares, e.mean / squares);
        foretold += crossValidated;
        missed += std::abs(crossValidated / other - 1);
        missedUnseen += std::abs(crossValidated / e.mean - 1);
        ++count;
    }
};

} // namespace

int main(int argc, char **argv)
{
    const int seeds = argc > 1 ? std::atoi(argv[1]) : 3;
    const int first = argc > 2 ? std::atoi(argv[2]) : 1, random = argc > 3 ? std::atoi(argv[3]) : 0;
    const bool verbose = argc > 4;
    auto cameras = random ? std::vector<sim::Camera>() : sim::cameras();
    for (int i = 0; i < random; ++i)
        cameras.push_back(randomCamera(uint64_t(first + i)));
    const auto unseen = unseenColours(320);
    std::vector<Unseen> many;
    for (const auto &one : unseenColours(1820))
        if (many.size() < 1500 &&
            std::none_of(unseen.begin(), unseen.end(), [&](const auto &u) { return u.lab == one.lab; }))
            many.push_back(one);
    std::map<std::string, Row> rows;
    std::map<std::string, int> recommended;
    double milliseconds = 0;
    for (const auto &camera : cameras)
        for (const auto &lamp : sim::lamps()) {
            const Body body{camera, lamp, {}};
            const auto test = patchesOf(body, unseen), others = patchesOf(body, many), large = chart140(body);
            const auto bestMatrix = *fitLinear(test);
            const auto best = judged(
                test, [&](const CameraRgb &c) { return xyzOf(bestMatrix.xyzFromCamera * vectorOf(c)); });
            auto smooth = *splitAtWhite(*fitLinear(others));
            FieldStrength generous{1, 20, 1};
            smooth.bends = {{&fieldBending(), numbersOf(fitField(others, smooth, generous))}};
            const auto smoothest = judged(test, [&](const CameraRgb &c) { return xyzFromCamera(smooth, c); });
            for (int seed = first; seed < first + seeds; ++seed) {
                const auto reading = readingOf(body, Trouble::None, uint64_t(seed));
                std::vector<FittedPatch> patches;
                for (size_t i = 0; i < 24; ++i)
                    patches.push_back(
                        {reading.patches[i].id, reading.patches[i].mean, chart().patches[i].reference});
                const auto squaresModel = *fitLeastSquares(patches);
                const auto squares = judged(test, [&](const CameraRgb &c) {
                    return xyzOf(squaresModel.xyzFromCamera * vectorOf(c));
                });
                rows["least squares"].add(squares, squares.mean, squares.mean,
                                          judged(large, [&](const CameraRgb &c) {
                                              return xyzOf(squaresModel.xyzFromCamera * vectorOf(c));
                                          }).mean);
                rows["best 3×3 on test"].add(best, squares.mean, best.mean,
                                             judged(large, [&](const CameraRgb &c) {
                                                 return xyzOf(bestMatrix.xyzFromCamera * vectorOf(c));
                                             }).mean);
                rows["smooth map of 1500"].add(
                    smoothest, squares.mean, smoothest.mean,
                    judged(large, [&](const CameraRgb &c) { return xyzFromCamera(smooth, c); }).mean);
                const auto start = std::chrono::steady_clock::now();
                const auto all = *fitPlane(reading, chart());
                milliseconds +=
                    std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start)
                        .count();
                const auto choice = recommendationOf(all, reading);
                for (size_t i = 0; i < all.size(); ++i) {
                    const auto e = judged(test, [&](const CameraRgb &c) { return xyzFromCamera(all[i], c); });
                    const double other =
                        judged(large, [&](const CameraRgb &c) { return xyzFromCamera(all[i], c); }).mean;
                    rows[nameOf(all[i].parts)].add(e, squares.mean, all[i].crossValidated.mean, other);
                    if (i == choice.index) {
                        rows["recommended"].add(e, squares.mean, all[i].crossValidated.mean, other);
                        ++recommended[nameOf(all[i].parts)];
                    }
                    if (verbose)
                        fmt::print("  {:12} {:9} {} {:16} unseen {:6.3f} cv {:6.3f} fit {:6.3f} stretch "
                                   "{:5.2f}…{:5.2f} sensitivity {:5.3f}{}\n",
                                   camera.model, lamp.name, seed, nameOf(all[i].parts), e.mean,
                                   all[i].crossValidated.mean, all[i].fit.mean, all[i].figures.leastStretch,
                                   all[i].figures.mostStretch, all[i].figures.sensitivity,
                                   i == choice.index ? " <-" : "");
                }
                if (verbose)
                    fmt::print("  {:12} {:9} {} squares {:.3f} best {:.3f} smooth {:.3f}: {}\n", camera.model,
                               lamp.name, seed, squares.mean, best.mean, smoothest.mean, int(choice.why));
            }
        }
    fmt::print("{:20}{:>10}{:>10}{:>10}{:>12}{:>12}{:>10}{:>12}\n", "parts", "mean ΔE", "p95", "max",
               "to squares", "worst", "foretold", "on 140");
    for (const auto &[name, row] : rows)
        fmt::print("{:20}{:10.3f}{:10.3f}{:10.3f}{:12.3f}{:12.3f}{:10.3f}{:12.3f}\n", name,
                   row.mean / row.count, row.p95 / row.count, row.most / row.count, row.toSquares / row.count,
                   row.worstToSquares, row.foretold / row.count, row.on140 / row.count);
    for (const auto &[name, count] : recommended)
        fmt::print("recommended {}: {} times\n", name, count);
    const auto &chosen = rows["recommended"];
    fmt::print("foretold by cross-validation: off by {:.0f} % on average of the 140-patch chart's error, by "
               "{:.0f} % of the 320 surfaces'\n",
               100 * chosen.missed / chosen.count, 100 * chosen.missedUnseen / chosen.count);
    fmt::print("all crossings with cross-validation, 24 patches: {:.0f} ms\n",
               milliseconds / rows["matrix"].count);
    Reading large;
    large.found = true;
    large.chart = "field-140";
    for (const auto &patch : chart140({sim::cameras().front(), sim::lamps().front(), {}}))
        large.patches.push_back({patch.id, patch.rgb, {0.003, 0.003, 0.003}, 4000, 0, 0});
    const auto start = std::chrono::steady_clock::now();
    (void)fitPlane(large, *chartFromCatalogue("field-140"));
    fmt::print("the same, 140 patches: {:.0f} ms\n",
               std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start).count());
}
