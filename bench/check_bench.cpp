// Chart frames with every mishap of a day at the set, and frames without a chart: share found, orientation,
// corner and patch error, and how often each capture check is right where the truth is out of doubt.
// wavechroma-bench-check [frames] [seed] [mishap]: of one mishap alone with the third.
#include "bench/guard.h"
#include "core/capture/capture_checks.h"
#include "core/measure/read_chart.h"
#include "core/sim/frame_in_memory.h"
#include "core/sim/random_situation.h"
#include "quantile.h"

#include <algorithm>
#include <chrono>
#include <cmath>
#include <cstdlib>
#include <fmt/format.h>
#include <map>

using namespace wavechroma;

namespace {

/// A frame whose mid-grey pixels scatter by more than this is not a readable chart frame; it is counted by
/// itself.
constexpr double kMostNoise = 0.30;

struct Answers
{
    int faulty = 0, told = 0, clean = 0, quiet = 0;
};

struct Tally
{
    int beyond = 0, foundBeyond = 0; // frames too noisy to be read, see kMostNoise
    int charts = 0, found = 0, rightChart = 0, rightTurn = 0, without = 0, falseFinds = 0;
    std::vector<double> corner, patch, milliseconds;
    std::map<std::string, Answers> checks;
};

/// The printed chart that was found: the one whose corners are nearest.
size_t nearestChart(const sim::Situation &s, const Reading &reading)
{
    size_t best = 0;
    double least = 1e18;
    for (size_t i = 0; i < s.frame.charts.size(); ++i) {
        double sum = 0;
        for (size_t k = 0; k < 4; ++k)
            for (size_t j = 0; j < 4; ++j)
                sum += std::hypot(reading.corners[k].x - s.frame.charts[i].corners[j].x,
                                  reading.corners[k].y - s.frame.charts[i].corners[j].y);
        if (sum < least) {
            least = sum;
            best = i;
        }
    }
    return best;
}

void judgePlace(const sim::Situation &s, const Reading &reading, const ChartDefinition &chart, uint64_t seed,
                Tally &tally)
{
    const auto index = nearestChart(s, reading);
    const auto &truth = s.frame.charts[index];
    const bool right = reading.chart == s.charts[index];
    tally.rightChart += right;
    if (!right) {
        fmt::print("seed {}: called {}, is {}\n", seed, reading.chart, s.charts[index]);
        return;
    }
    if (s.mishap == sim::Mishap::WrongChart) { // which way up a chart in no order is, nothing tells
        ++tally.rightTurn;
        return;
    }
    const double pitch = pitchPixels(chart, *homographyFrom(chart, truth.corners));
    double worst = 0;
    for (size_t i = 0; i < 4; ++i)
        worst = std::max(worst, std::hypot(reading.corners[i].x - truth.corners[i].x,
                                           reading.corners[i].y - truth.corners[i].y) /
                                    pitch);
    tally.corner.push_back(worst);
    tally.rightTurn += worst < 0.5;
    if (worst > 0.05)
        fmt::print("seed {} ({}): corners off by {:.3f} of a pitch\n", seed, nameOf(s.mishap), worst);
    for (size_t i = 0; i < truth.patches.size(); ++i)
        for (size_t c = 0; c < 3; ++c)
            if (truth.patches[i][c] <
                0.97) // saturated and covered patches have no true value to compare with
                tally.patch.push_back(
                    std::abs(vectorOf(reading.patches[i].mean)[c] / truth.patches[i][c] - 1));
}

void judgeChecks(const sim::Situation &s, const std::vector<Check> &checks, uint64_t seed, Tally &tally)
{
    for (const auto &[id, faulty] : s.faults) {
        const auto check = std::find_if(checks.begin(), checks.end(),
                                        [&, &key = id](const Check &c) { return nameOf(c.id) == key; });
        if (check == checks.end())
            continue; // it did not run
        const bool told = check->severity != Severity::Ok;
        auto &answers = tally.checks[id];
        ++(faulty ? answers.faulty : answers.clean);
        (faulty ? answers.told : answers.quiet) += told == faulty;
        if (told != faulty)
            fmt::print("seed {} ({}, {}, {}): {} {} — {:.4f} against {:.4f}, {}\n", seed, nameOf(s.mishap),
                       s.charts.front(), s.frame.camera.model, id, faulty ? "not told" : "told for nothing",
                       check->value, check->limit, check->finding);
    }
}

} // namespace

int main(int argc, char **argv)
{
    const int frames = argc > 1 ? std::atoi(argv[1]) : 160;
    const uint64_t firstSeed = argc > 2 ? std::strtoull(argv[2], nullptr, 10) : 1000000;
    const std::string only = argc > 3 ? argv[3] : "";
    Tally tally;
    for (int i = 0; i < frames; ++i) {
        const uint64_t seed = firstSeed + uint64_t(i);
        if (!only.empty() && only != nameOf(sim::Mishap(seed % sim::kMishaps)))
            continue;
        auto s = sim::randomSituation(seed);
        const auto facts = s.frame;
        const auto frame = sim::rawFrameOf(std::move(s.frame));
        s.frame.charts = facts.charts;
        s.frame.camera = facts.camera;
        const auto start = std::chrono::steady_clock::now();
        const auto reading = s.asked.empty()
                                 ? readAnyChart(frame, chartCatalogue())
                                 : readChart(frame, *chartFromCatalogue(s.asked), {{}, 0.5, true});
        tally.milliseconds.push_back(
            std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start).count());
        if (s.charts.empty() || s.mishap == sim::Mishap::NoChart) {
            ++tally.without;
            tally.falseFinds += reading->found;
            if (reading->found)
                fmt::print("seed {}: found a {} where there is none, confidence {:.2f}\n", seed,
                           reading->chart, reading->confidence);
            continue;
        }
        if (s.greyNoise > kMostNoise) {
            ++tally.beyond;
            tally.foundBeyond += reading->found;
            continue;
        }
        ++tally.charts;
        tally.found += reading->found;
        if (!reading->found) {
            const auto &c = s.frame.charts.front().corners;
            fmt::print("seed {} ({}): missed a {}, {:.0f} px wide, {}\n", seed, nameOf(s.mishap),
                       s.charts.front(), std::hypot(c[1].x - c[0].x, c[1].y - c[0].y), s.frame.camera.model);
            continue;
        }
        const auto chart = *chartFromCatalogue(reading->chart);
        judgePlace(s, *reading, chart, seed, tally);
        if (reading->chart == s.charts.front())
            judgeChecks(s, captureChecks(*reading, chart, captureEvidence(frame, *reading, chart)), seed,
                        tally);
    }
    fmt::print("with chart: {} of {} found, {} named right, {} the right way round\n", tally.found,
               tally.charts, tally.rightChart, tally.rightTurn);
    fmt::print("too noisy to read: {} of {} found all the same\n", tally.foundBeyond, tally.beyond);
    fmt::print("without: {} of {} wrongly found\n", tally.falseFinds, tally.without);
    fmt::print("worst corner, pitches: median {:.4f}, 95 % {:.4f}\n", quantile(tally.corner, 0.5),
               quantile(tally.corner, 0.95));
    fmt::print("patch value error: median {:.3f} %, 95 % {:.3f} %\n", 100 * quantile(tally.patch, 0.5),
               100 * quantile(tally.patch, 0.95));
    fmt::print("search and read: median {:.0f} ms, most {:.0f} ms\n", quantile(tally.milliseconds, 0.5),
               quantile(tally.milliseconds, 1));
    bench::Guard guard("check");
    guard.figure("found", double(tally.found) / std::max(1, tally.charts));
    guard.figure("named right", double(tally.rightChart) / std::max(1, tally.found));
    guard.figure("the right way round", double(tally.rightTurn) / std::max(1, tally.found));
    guard.figure("wrongly found", tally.falseFinds);
    guard.figure("corner, median", quantile(tally.corner, 0.5));
    guard.figure("patch error, median", quantile(tally.patch, 0.5));
    guard.figure("patch error, 95 %", quantile(tally.patch, 0.95));
    int right = 0, asked = 0;
    for (const auto &[id, a] : tally.checks) {
        fmt::print("{:14} told {} of {} faulty, quiet on {} of {} clean\n", id, a.told, a.faulty, a.quiet,
                   a.clean);
        right += a.told + a.quiet;
        asked += a.faulty + a.clean;
    }
    guard.figure("checks right", double(right) / std::max(1, asked));
    return guard.status();
}
