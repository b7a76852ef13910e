#include "core/balance/balance.h"

#include "core/base/said.h"
#include "core/color/lab.h"

#include <algorithm>
#include <cmath>

namespace wavechroma {

bool isUsable(const PatchReading &patch)
{
    return patch.count > 0 && patch.clipped < kMostClipped && patch.low < kMostLow && patch.mean.r > 0 &&
           patch.mean.g > 0 && patch.mean.b > 0;
}

CameraRgb doubtOfMean(const PatchReading &patch)
{
    const double n = std::max(4, patch.count);
    return {patch.sd.r / std::sqrt(n / 4), patch.sd.g / std::sqrt(n / 2), patch.sd.b / std::sqrt(n / 4)};
}

bool Balance::operator==(const Balance &other) const
{
    const auto same = [](const std::optional<Temperature> &a, const std::optional<Temperature> &b) {
        return a.has_value() == b.has_value() && (!a || (a->cctKelvin == b->cctKelvin && a->duv == b->duv));
    };
    return multipliers == other.multipliers && neutral == other.neutral && source == other.source &&
           lean == other.lean && leaned == other.leaned && preset == other.preset &&
           same(temperature, other.temperature);
}

std::optional<std::string> defaultNeutral(const Reading &reading, const ChartDefinition &chart)
{
    const PatchReading *best = nullptr;
    double lightest = 0;
    // where a chart has one neutral only, it is that one whatever its lightness
    const bool only = chart.neutral.size() == 1;
    for (const auto &id : chart.neutral) {
        const auto *patch = reading.patch(id);
        const double l = labFromXyz(chart.patch(id)->reference).l;
        if (!patch || !isUsable(*patch) || reading.isLeftOut(id) || !(only || (l >= 30 && l <= 85)))
            continue;
        // equal greys that see different light, as on a cube's faces: the one on the key light's side
        const bool keySide = best && l == lightest && patch->mean.g > best->mean.g;
        if (l > lightest || keySide) {
            lightest = l;
            best = patch;
        }
    }
    return best ? std::optional(best->id) : std::nullopt;
}

static Balance balanceOf(const CameraRgb &neutral, const FileColor &color)
{
    Balance balance;
    balance.neutral = neutral;
    balance.multipliers = {neutral.g / neutral.r, 1, neutral.g / neutral.b};
    if (const auto xy = lightFromNeutral(color, vectorOf(neutral)))
        balance.temperature = temperatureOf(*xy);
    return balance;
}

/// Why a patch cannot stand for a neutral; empty when it can.
static words::Phrase reasonAgainst(const PatchReading &patch)
{
    if (patch.clipped >= kMostClipped)
        return {words::said("is clipped in at least one channel")};
    if (patch.count == 0)
        return {"was not read"};
    return {isUsable(patch) ? "" : words::said("has too little signal above black")};
}

Result<Balance> balanceFromPatches(const Reading &reading, const std::vector<std::string> &ids)
{
    CameraRgb sum;
    double firstGreen = 0;
    for (const auto &id : ids) {
        const auto *patch = reading.patch(id);
        if (!patch)
            return unusable("{file}: the reading has no patch \"{patch}\"",
                            {{"file", reading.image}, {"patch", id}});
        if (const auto reason = reasonAgainst(*patch); !reason.empty())
            return unusable("{file}: patch {patch} {reason}",
                            {{"file", reading.image}, {"patch", id}, {"reason", reason}});
        if (firstGreen == 0)
            firstGreen = patch->mean.g;
        const double scale = firstGreen / patch->mean.g / double(ids.size());
        sum = {sum.r + scale * patch->mean.r, sum.g + scale * patch->mean.g, sum.b + scale * patch->mean.b};
    }
    if (ids.empty())
        return unusable("{file}: no neutral patch can be used: each is clipped, too dark or not read",
                        {{"file", reading.image}});
    auto balance = balanceOf(sum, reading.fileColor);
    balance.source = {reading.image, ids, {}};
    return balance;
}

Result<Balance> balanceFromArea(const std::string &image, const FileColor &color,
                                const std::array<double, 4> &area, const PatchReading &samples)
{
    if (const auto reason = reasonAgainst(samples); !reason.empty())
        return unusable("{file}: the area {reason}", {{"file", image}, {"reason", reason}});
    auto balance = balanceOf(samples.mean, color);
    balance.source = {image, {}, area};
    return balance;
}

} // namespace wavechroma
