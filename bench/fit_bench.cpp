// Calibrations made from imperfect readings, judged on unseen colours: every camera under every lamp, trained
// on one noisy reading of 24 patches with an uneven light, flare, covered patches or glare, and judged on 320
// reflectances that no fit saw. Ratios are against the same fit of the clean chart, and against plain
// weighted least squares. wavechroma-bench-fit [seeds [colour [tone]]]
#include "bench/unseen.h"
#include "core/color/de2000.h"
#include "core/color/illuminant.h"
#include "core/color/lab.h"
#include "core/fit/fit.h"
#include "core/fit/fit_matrix.h"

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <fmt/format.h>
#include <functional>
#include <map>

using namespace wavechroma;
using namespace wavechroma::bench;

namespace {

/// Mean ΔE2000 over the unseen colours; `gain` as the calibration has it, or the best common one.
double judged(const Body &body, const std::vector<Unseen> &unseen,
              const std::function<Xyz(const CameraRgb &)> &model, bool freeGain)
{
    std::vector<Xyz> results;
    double ratio = 0;
    for (const auto &one : unseen) {
        const auto rgb = seen(body, one.reflectance);
        results.push_back(model({rgb[0], rgb[1], rgb[2]}));
        ratio += std::log(xyzFromLab(one.lab).y / std::max(1e-6, results.back().y)) / double(unseen.size());
    }
    const double gain = freeGain ? std::exp(ratio) : 1;
    double sum = 0;
    for (size_t i = 0; i < unseen.size(); ++i)
        sum += de2000(labFromXyz({gain * results[i].x, gain * results[i].y, gain * results[i].z}),
                      unseen[i].lab) /
               double(unseen.size());
    return sum;
}

} // namespace

int main(int argc, char **argv)
{
    const int seeds = argc > 1 ? std::atoi(argv[1]) : 3;
    const auto unseen = unseenColours(320);
    fmt::print("{:20}{:>10}{:>10}{:>12}{:>12}{:>14}\n", "reading", "mean ΔE", "to clean", "at worst",
               "free gain", "plain squares");
    std::map<std::string, double> clean;
    for (int f = 0; f < 8; ++f) {
        double sum = 0, ratios = 0, worst = 0, freeRatios = 0, plain = 0;
        std::string worstWhere;
        int count = 0;
        for (const auto &camera : sim::cameras())
            for (const auto &lamp : sim::lamps())
                for (int seed = 1; seed <= seeds; ++seed) {
                    const Body body{camera, lamp, {}};
                    const auto reading = readingOf(body, Trouble(f), uint64_t(seed));
                    FitOptions options;
                    options.parts = {argc > 2 ? argv[2] : "matrix", argc > 3 ? argv[3] : "as-shot"};
                    options.crossValidate = false;
                    const auto calibration = fitCalibration(reading, chart(), options);
                    if (!calibration)
                        continue;
                    const auto model = [&](const CameraRgb &rgb) { return xyzFromCamera(*calibration, rgb); };
                    const double asIs = judged(body, unseen, model, false),
                                 free = judged(body, unseen, model, true);
                    std::vector<FittedPatch> patches;
                    for (size_t i = 0; i < 24; ++i)
                        patches.push_back(
                            {reading.patches[i].id, reading.patches[i].mean, chart().patches[i].reference});
                    const auto squares = fitLeastSquares(patches);
                    const auto key = fmt::format("{}/{}/{}", camera.model, lamp.name, seed);
                    if (f == 0) {
                        clean[key] = asIs;
                        clean[key + "/free"] = free;
                    }
                    sum += asIs;
                    ratios += asIs / clean[key];
                    freeRatios += free / clean[key + "/free"];
                    if (free / clean[key + "/free"] > worst) {
                        worst = free / clean[key + "/free"];
                        worstWhere = key;
                    }
                    plain += judged(
                                 body, unseen,
                                 [&](const CameraRgb &rgb) {
                                     return xyzOf(squares->xyzFromCamera * vectorOf(rgb));
                                 },
                                 true) /
                             clean[key + "/free"];
                    ++count;
                }
        fmt::print("{:20}{:10.3f}{:10.3f}{:12.3f}{:12.3f}{:14.3f}   {}\n", kFaults[f], sum / count,
                   ratios / count, worst, freeRatios / count, plain / count, worstWhere);
    }
}
