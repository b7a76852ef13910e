// How well a calibration foretells its errors on products: for random bodies under each lamp the recommended
// calibration of one noisy reading, then surfaces that no fit saw; foretold against true ΔE2000, and whether
// those ranked worse are worse (Spearman). wavechroma-bench-foretold [bodies] [first seed] [products]
#include "bench/guard.h"
#include "bench/unseen.h"
#include "core/base/statistics.h"
#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/fit/fit.h"
#include "core/fit/recommend.h"
#include "core/proof/foretold.h"

#include <cstdlib>
#include <fmt/format.h>
#include <numeric>

using namespace wavechroma;
using namespace wavechroma::bench;

namespace {

std::vector<double> ranksOf(const std::vector<double> &values)
{
    std::vector<size_t> order(values.size());
    std::iota(order.begin(), order.end(), size_t(0));
    std::sort(order.begin(), order.end(), [&](size_t a, size_t b) { return values[a] < values[b]; });
    std::vector<double> out(values.size());
    for (size_t i = 0; i < order.size(); ++i)
        out[order[i]] = double(i);
    return out;
}

double correlationOf(const std::vector<double> &x, const std::vector<double> &y)
{
    const double n = double(x.size());
    const double mx = std::accumulate(x.begin(), x.end(), 0.0) / n,
                 my = std::accumulate(y.begin(), y.end(), 0.0) / n;
    double xy = 0, xx = 0, yy = 0;
    for (size_t i = 0; i < x.size(); ++i) {
        xy += (x[i] - mx) * (y[i] - my);
        xx += (x[i] - mx) * (x[i] - mx);
        yy += (y[i] - my) * (y[i] - my);
    }
    return xy / std::sqrt(xx * yy);
}

} // namespace

int main(int argc, char **argv)
{
    const int bodies = argc > 1 ? std::atoi(argv[1]) : 8, first = argc > 2 ? std::atoi(argv[2]) : 9001;
    const int products = argc > 3 ? std::atoi(argv[3]) : 200;
    std::vector<double> ratios, ranks, allTrue, allForetold;
    for (int i = 0; i < bodies; ++i) {
        const auto camera = randomCamera(uint64_t(first + i));
        sim::Random random(uint64_t(first + i) * 131 + 7);
        for (const auto &lamp : sim::lamps()) {
            const Body body{camera, lamp, {}};
            const auto reading = readingOf(body, Trouble::None, uint64_t(first + i));
            const auto plane = *fitPlane(reading, chart());
            const auto &calibration = plane[recommendationOf(plane, reading).index];
            const ForetoldError foretold(calibration);
            std::vector<double> truth, said;
            while (int(truth.size()) < products) {
                const double hue = random.uniform(0, 6.2832), chroma = 75 * random.uniform(0, 1);
                const Lab lab{random.uniform(18, 92), chroma * std::cos(hue), chroma * std::sin(hue)};
                const auto reflectance = sim::reflectanceOf(lab, random.next(), 0.12);
                if (!reflectance)
                    continue;
                const auto rgb = seen(body, *reflectance);
                const Lab got = labFromXyz(xyzFromCamera(calibration, {rgb[0], rgb[1], rgb[2]}));
                truth.push_back(de2000(got, lab));
                said.push_back(foretold.at(got));
            }
            const auto sum = [](const std::vector<double> &v) {
                return std::accumulate(v.begin(), v.end(), 0.0);
            };
            ratios.push_back(sum(said) / sum(truth));
            ranks.push_back(correlationOf(ranksOf(said), ranksOf(truth)));
            allTrue.insert(allTrue.end(), truth.begin(), truth.end());
            allForetold.insert(allForetold.end(), said.begin(), said.end());
        }
    }
    double off = 0;
    int within = 0, ranked = 0;
    for (const double r : ratios) {
        off += std::abs(std::log(r)) / double(ratios.size());
        within += r > 1 / 1.3 && r < 1.3;
    }
    for (const double r : ranks)
        ranked += r >= 0.4;
    auto sortedRatios = ratios, sortedRanks = ranks;
    std::sort(sortedRatios.begin(), sortedRatios.end());
    std::sort(sortedRanks.begin(), sortedRanks.end());
    fmt::print("{} pairs of body (seeds {} to {}) and lamp, {} surfaces each\n", ratios.size(), first,
               first + bodies - 1, products);
    fmt::print(
        "mean foretold / mean true: {:.2f} over all; a pair {:.2f}, {:.2f}, {:.2f} (least, median, most); "
        "off by a factor of {:.2f} on average; within 30 %: {} of {}\n",
        std::accumulate(allForetold.begin(), allForetold.end(), 0.0) /
            std::accumulate(allTrue.begin(), allTrue.end(), 0.0),
        sortedRatios.front(), medianOf(ratios), sortedRatios.back(), std::exp(off), within, ratios.size());
    fmt::print(
        "Spearman of foretold and true: {:.2f} over all; a pair {:.2f}, {:.2f}, {:.2f}; at least 0.4: {} of "
        "{}\n",
        correlationOf(ranksOf(allForetold), ranksOf(allTrue)), sortedRanks.front(), medianOf(ranks),
        sortedRanks.back(), ranked, ranks.size());
    bench::Guard guard("foretold");
    guard.figure("foretold over true", std::accumulate(allForetold.begin(), allForetold.end(), 0.0) /
                                           std::accumulate(allTrue.begin(), allTrue.end(), 0.0));
    guard.figure("off by a factor of", std::exp(off));
    guard.figure("within 30 %", double(within) / double(ratios.size()));
    guard.figure("rank", correlationOf(ranksOf(allForetold), ranksOf(allTrue)));
    return guard.status();
}
