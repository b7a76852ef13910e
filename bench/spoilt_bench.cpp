// Are spoilt patches told from patches that a sensor only sees in its own way? Chart frames by sensors from
// very narrow to very broad, some seeing infrared, under lamps of every kind, from glowing wire to three
// narrow LEDs: half of them clean, the others with fingers, dirt, a reflection or a band of one.
// wavechroma-bench-spoilt [frames] [first seed] [every seed's answer: 1]
#include "bench/guard.h"
#include "bench/unseen.h"
#include "core/capture/capture_checks.h"
#include "core/measure/read_chart.h"
#include "core/sim/frame_in_memory.h"
#include "core/sim/random_situation.h"

#include <cstdlib>
#include <fmt/format.h>
#include <map>

using namespace wavechroma;
using sim::Mishap;

namespace {

struct Count
{
    int frames = 0, stops = 0, warnings = 0;
};

/// The worst of the two checks that tell spoilt patches.
Severity spoiltBy(const std::vector<Check> &checks)
{
    auto worst = Severity::Ok;
    for (const auto &check : checks)
        if (check.id == CheckId::Glare || check.id == CheckId::Obstruction)
            worst = std::max(worst, check.severity);
    return worst;
}

/// Ought it to be told? Nothing where the truth is in doubt.
std::optional<bool> isSpoilt(const sim::Situation &s)
{
    if (s.mishap == Mishap::None)
        return false;
    const auto id = s.mishap == Mishap::Glare || s.mishap == Mishap::GlareBand ? "glare" : "obstruction";
    const auto at = s.faults.find(id);
    return at == s.faults.end() ? std::nullopt : std::optional(at->second);
}

} // namespace

int main(int argc, char **argv)
{
    const int frames = argc > 1 ? std::atoi(argv[1]) : 300;
    const auto first = uint64_t(argc > 2 ? std::atoll(argv[2]) : 4000000);
    const bool isTalkative = argc > 3;
    static constexpr Mishap kKinds[] = {Mishap::None, Mishap::Fingers, Mishap::None, Mishap::Dirt,
                                        Mishap::None, Mishap::Glare,   Mishap::None, Mishap::GlareBand};
    std::map<Mishap, Count> counts;
    int missed = 0;
    for (int i = 0; i < frames; ++i) {
        const uint64_t seed = first + uint64_t(i);
        const auto camera = bench::anySensor(seed);
        const auto lamp = bench::anyLamp(seed);
        auto s = sim::randomSituation(seed, {kKinds[seed % 8], camera, lamp, 1500});
        const auto spoilt = isSpoilt(s);
        const auto frame = sim::rawFrameOf(std::move(s.frame));
        const auto reading = readAnyChart(frame, chartCatalogue());
        if (!reading->found || reading->chart != s.charts.front() || !spoilt) {
            missed += !reading->found || reading->chart != s.charts.front();
            continue;
        }
        const auto chart = *chartFromCatalogue(reading->chart);
        const auto checks = captureChecks(*reading, chart, captureEvidence(frame, *reading, chart, false));
        auto &count = counts[s.mishap];
        ++count.frames;
        const auto answer = spoiltBy(checks);
        count.stops += answer == Severity::Stop;
        count.warnings += answer == Severity::Warn;
        if (isTalkative && (answer != Severity::Ok) != *spoilt)
            for (const auto &check : checks)
                if (check.id == CheckId::Glare || check.id == CheckId::Obstruction)
                    fmt::print("seed {} ({}, {}, {}): {} {} {:.3f} against {:.3f}, {}\n", seed,
                               nameOf(s.mishap), chart.id, lamp.name, nameOf(check.id), int(check.severity),
                               check.value, check.limit, fmt::join(check.patches, " "));
    }
    fmt::print("{} frames whose chart was not found\n", missed);
    int spoilt = 0, told = 0;
    for (const auto &[mishap, c] : counts) {
        fmt::print("{:14} {:4} frames: stop {:5.1f} %, warn {:5.1f} %\n", nameOf(mishap), c.frames,
                   100.0 * c.stops / c.frames, 100.0 * c.warnings / c.frames);
        if (mishap != Mishap::None) {
            spoilt += c.frames;
            told += c.stops + c.warnings;
        }
    }
    const auto &clean = counts[Mishap::None];
    bench::Guard guard("spoilt");
    guard.figure("false stops", double(clean.stops) / std::max(1, clean.frames));
    guard.figure("false warnings", double(clean.warnings) / std::max(1, clean.frames));
    guard.figure("spoilt told", double(told) / std::max(1, spoilt));
    return guard.status();
}
