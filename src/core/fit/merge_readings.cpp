#include "core/fit/merge_readings.h"

#include "core/balance/balance.h"
#include "core/base/statistics.h"

#include <algorithm>
#include <cmath>

namespace wavechroma {

namespace {

/// Median ratio of the first's green to the other's over the patches that both can use; 0 without any.
double exposureRatio(const Reading &first, const Reading &other)
{
    std::vector<double> ratios;
    for (const auto &p : first.patches)
        if (const auto *q = other.patch(p.id);
            q && isUsable(p) && isUsable(*q) && !first.isLeftOut(p.id) && !other.isLeftOut(p.id))
            ratios.push_back(p.mean.g / q->mean.g);
    return medianOf(std::move(ratios));
}

struct Sum
{
    double weights = 0, value = 0;
    void add(double v, double sd, int count)
    {
        // even a noiseless reading is not exact: 1e-4 of itself
        const double doubt2 = sd * sd / std::max(1, count) + 1e-8 * v * v + 1e-14;
        weights += 1 / doubt2;
        value += v / doubt2;
    }
    [[nodiscard]] double mean() const { return value / weights; }
    /// Scatter of single pixels that leaves as much doubt in a mean of `count` of them.
    [[nodiscard]] double sd(int count) const { return std::sqrt(std::max(1, count) / weights); }
};

} // namespace

Result<Reading> mergedReading(const std::vector<Reading> &readings)
{
    if (readings.empty())
        return unusable("no reading was given");
    if (readings.size() == 1)
        return readings.front();
    Reading out = readings.front();
    std::vector<double> ratios;
    for (const auto &reading : readings) {
        if (!reading.found)
            return unusable("{file}: no chart was found", {{"file", reading.image}});
        if (reading.chart != out.chart || !samePair(reading.camera, out.camera))
            return unusable(
                "{file}: has another chart, camera or lens than {other}, so the two cannot be merged",
                {{"file", reading.image}, {"other", out.image}});
        if (reading.flats.empty() != out.flats.empty())
            return unusable(
                "{file}: either this reading or {other} has its light evened by a flat, but not both",
                {{"file", reading.image}, {"other", out.image}});
        ratios.push_back(exposureRatio(out, reading));
        if (ratios.back() <= 0)
            return unusable("{file}: has no usable patch in common with {other}",
                            {{"file", reading.image}, {"other", out.image}});
    }
    for (auto &patch : out.patches) {
        std::array<Sum, 3> sums;
        int count = 0;
        double clipped = 1, low = 1;
        for (size_t i = 0; i < readings.size(); ++i) {
            const auto *p = readings[i].patch(patch.id);
            if (!p || !isUsable(*p) || readings[i].isLeftOut(patch.id))
                continue;
            const auto mean = vectorOf(p->mean), sd = vectorOf(p->sd);
            for (size_t c = 0; c < 3; ++c)
                sums[c].add(ratios[i] * mean[c], ratios[i] * sd[c], p->count);
            count += p->count;
            clipped = std::min(clipped, p->clipped);
            low = std::min(low, p->low);
        }
        if (count == 0)
            continue;
        patch.mean = {sums[0].mean(), sums[1].mean(), sums[2].mean()};
        patch.sd = {sums[0].sd(count), sums[1].sd(count), sums[2].sd(count)};
        patch.count = count;
        patch.clipped = clipped;
        patch.low = low;
    }
    std::erase_if(out.leftOut, [&](const auto &id) {
        return std::any_of(readings.begin(), readings.end(),
                           [&](const auto &r) { return r.patch(id) && !r.isLeftOut(id); });
    });
    return out;
}

} // namespace wavechroma
