#include "core/capture/compare_frames.h"

#include "core/base/statistics.h"

#include <algorithm>
#include <cmath>

namespace wavechroma {

namespace {

constexpr double kStopsWorthAWord = 0.15, kColourWorthAWord = 0.02;

struct Standing
{
    Severity worst = Severity::Stop;
    double off = 100; ///< stops from the aim, unsigned
    int warnings = 0;
    double glare = 0, blur = 1e9; ///< as the checks have them
    const Check *exposure = nullptr, *trouble = nullptr;
};

Standing standingOf(const Reading &reading)
{
    Standing s;
    if (!reading.found)
        return s;
    s.worst = reading.worst();
    for (const auto &check : reading.checks) {
        s.warnings += check.severity != Severity::Ok;
        if (check.id == CheckId::Exposure) {
            s.exposure = &check;
            s.off = check.patches.empty() ? 99 : std::abs(check.value);
        }
        if (check.id == CheckId::Glare)
            s.glare = check.value;
        if (check.id == CheckId::Focus && check.finding != "too-small")
            s.blur = check.value;
        if (check.severity == Severity::Stop && !s.trouble)
            s.trouble = &check;
    }
    return s;
}

bool isBetter(const Standing &a, const Standing &b)
{
    if ((a.worst == Severity::Stop) != (b.worst == Severity::Stop))
        return b.worst == Severity::Stop;
    if (std::abs(a.off - b.off) > kOnItsAim)
        return a.off < b.off;
    if (a.warnings != b.warnings)
        return a.warnings < b.warnings;
    return a.off < b.off;
}

/// Of frames at one setting, of a chart that is held or tilted, say.
bool isStiller(const Standing &a, const Standing &b)
{
    constexpr double kAlikeGlare = 0.01; // of a patch
    if ((a.worst == Severity::Stop) != (b.worst == Severity::Stop))
        return b.worst == Severity::Stop;
    if (a.warnings != b.warnings)
        return a.warnings < b.warnings;
    if (std::abs(a.glare - b.glare) > kAlikeGlare)
        return a.glare < b.glare;
    return a.blur < b.blur;
}

bool serves(const PatchReading &p)
{
    return p.count > 0 && p.clipped < 0.01 && p.mean.r > 0.002 && p.mean.g > 0.002 && p.mean.b > 0.002;
}

/// Of each patch that both readings can use: green, and red and blue against it, the second over the first.
struct Ratios
{
    std::vector<double> level, red, blue;
};
std::optional<Ratios> ratiosOf(const Reading &before, const Reading &after)
{
    if (!before.found || !after.found || before.chart != after.chart || before.flats != after.flats)
        return std::nullopt;
    Ratios out;
    for (const auto &now : after.patches) {
        const auto *then = before.patch(now.id);
        if (!then || !serves(*then) || !serves(now) || before.isLeftOut(now.id) || after.isLeftOut(now.id))
            continue;
        const double green = now.mean.g / then->mean.g;
        out.level.push_back(green);
        out.red.push_back(now.mean.r / then->mean.r / green);
        out.blue.push_back(now.mean.b / then->mean.b / green);
    }
    return out.level.size() < 3 ? std::nullopt : std::optional(out);
}

VisibleChange visibleIn(const LightChange &change)
{
    VisibleChange out;
    if (change.stops && std::abs(*change.stops) > kStopsWorthAWord)
        out.stops = *change.stops;
    const double warmth = (1 + change.red) / (1 + change.blue) - 1, green = -(change.red + change.blue) / 2;
    if (std::abs(warmth) > kColourWorthAWord)
        out.warmth = warmth;
    else if (std::abs(green) > kColourWorthAWord)
        out.green = green;
    return out;
}

} // namespace

static bool isBurstOf(std::span<const Reading *const> readings)
{
    return std::all_of(readings.begin(), readings.end(), [&](const Reading *reading) {
        const auto stops = settingStops(reading->camera, readings.front()->camera);
        return stops && std::abs(*stops) < kOneSetting;
    });
}

BracketChoice chooseFromBracket(std::span<const Reading *const> readings)
{
    BracketChoice choice;
    choice.isBurst = isBurstOf(readings);
    std::vector<Standing> all;
    for (const auto *reading : readings)
        all.push_back(standingOf(*reading));
    for (size_t i = 1; i < all.size(); ++i)
        if (choice.isBurst ? isStiller(all[i], all[choice.index]) : isBetter(all[i], all[choice.index]))
            choice.index = i;
    const auto &best = all[choice.index];
    choice.count = int(readings.size());
    choice.usable = best.worst != Severity::Stop;
    if (!choice.usable) {
        if (best.trouble)
            choice.trouble = *best.trouble;
        return choice;
    }
    if (best.exposure && !best.exposure->patches.empty())
        choice.stops = best.exposure->value;
    for (size_t i = 0; i < all.size(); ++i)
        if (i != choice.index && all[i].trouble && all[i].exposure && best.exposure)
            (all[i].exposure->value > best.exposure->value ? choice.brighterClips : choice.darkerIsNoisy) =
                true;
    return choice;
}

std::optional<double> settingStops(const CameraFacts &a, const CameraFacts &b)
{
    const auto light = [](const CameraFacts &c) {
        return c.fNumber > 0 ? c.exposureSeconds * c.iso / (c.fNumber * c.fNumber) : 0.0;
    };
    const double now = light(a), then = light(b);
    return now > 0 && then > 0 ? std::optional(std::log2(now / then)) : std::nullopt;
}

std::optional<double> levelStops(const Reading &before, const Reading &after)
{
    const auto ratios = ratiosOf(before, after);
    return ratios ? std::optional(std::log2(medianOf(ratios->level))) : std::nullopt;
}

std::optional<LightChange> lightChange(const Reading &before, const Reading &after)
{
    const auto ratios = ratiosOf(before, after);
    if (!ratios)
        return std::nullopt;
    LightChange change;
    const auto set = settingStops(after.camera, before.camera);
    if (set && std::abs(*set) < 0.02)
        change.stops = std::log2(medianOf(ratios->level));
    change.red = medianOf(ratios->red) - 1;
    change.blue = medianOf(ratios->blue) - 1;
    change.visible = visibleIn(change);
    return change;
}

} // namespace wavechroma
