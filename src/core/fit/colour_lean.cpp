#include "core/fit/colour_lean.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace wavechroma {

namespace {

constexpr double kDegree = std::numbers::pi / 180;
constexpr double kStep = 0.04, kTurn = 1 / 30.0; // of chroma; of the way to the hue aimed at

double smoothStep(double from, double to, double x)
{
    const double t = std::fmin(1, std::fmax(0, (x - from) / (to - from)));
    return t * t * (3 - 2 * t);
}

CompressedLab leanedReds(int steps, const CompressedLab &p)
{
    const double chroma = std::hypot(p.a, p.b), hue = std::atan2(p.b, p.a);
    const double off = std::remainder(hue - 30 * kDegree, 2 * std::numbers::pi) / (35 * kDegree);
    if (steps == 0 || std::abs(off) >= 1)
        return p;
    const double share = steps * smoothStep(4, 12, chroma) * 0.5 * (1 + std::cos(std::numbers::pi * off));
    const double length = chroma * (1 + kStep * share);
    const double turned = hue - kTurn * share * std::remainder(55 * kDegree - hue, 2 * std::numbers::pi);
    return {p.l, length * std::cos(turned), length * std::sin(turned)};
}

CompressedLab leanedChroma(int steps, const CompressedLab &p)
{
    const double chroma = std::hypot(p.a, p.b);
    const double gain = 1 + kStep * steps * smoothStep(0, 8, chroma) * (1 - smoothStep(25, 45, chroma));
    return {p.l, p.a * gain, p.b * gain};
}

constexpr double kBorder = 12;                          // degrees on each side, where two sectors mix
constexpr double kSector = 360.0 / double(kHueSectors); // degrees

/// The two sectors that have a share in a hue, and the second one's.
struct SectorShare
{
    size_t first = 0, second = 0;
    double share = 0;
};

SectorShare sectorsAt(double degrees)
{
    const double hue = degrees - 360 * std::floor(degrees / 360);
    const auto own = std::min(size_t(hue / kSector), kHueSectors - 1);
    const double within = hue - kSector * double(own);
    if (within < kBorder)
        return {(own + kHueSectors - 1) % kHueSectors, own, smoothStep(-kBorder, kBorder, within)};
    return {own, (own + 1) % kHueSectors, smoothStep(kSector - kBorder, kSector + kBorder, within)};
}

CompressedLab leanedSectors(const std::array<SectorLean, kHueSectors> &sectors, const CompressedLab &p)
{
    const double chroma = std::hypot(p.a, p.b), hue = std::atan2(p.b, p.a), full = smoothStep(4, 12, chroma);
    if (full == 0)
        return p;
    const auto at = sectorsAt(hue / kDegree);
    if (sectors[at.first] == SectorLean{} && sectors[at.second] == SectorLean{})
        return p;
    const auto amount = [&](double SectorLean::*what) {
        return full *
               (sectors[at.first].*what + at.share * (sectors[at.second].*what - sectors[at.first].*what));
    };
    const double turned = hue + kDegree * amount(&SectorLean::hue),
                 length = chroma * (1 + amount(&SectorLean::chroma) / 100);
    return {p.l + amount(&SectorLean::lightness), length * std::cos(turned), length * std::sin(turned)};
}

/// Lightness beyond 0 and 100 stays what it is.
CompressedLab leanedContrast(int steps, const CompressedLab &p)
{
    if (steps == 0 || p.l <= 0 || p.l >= 100)
        return p;
    const double turn = 2 * std::numbers::pi / 100;
    return {p.l + 0.05 * steps * std::sin(turn * (p.l - 50)) / turn, p.a, p.b};
}

bool isWithin(const SectorLean &s)
{
    return std::abs(s.hue) <= kMostSectorLean.hue && std::abs(s.chroma) <= kMostSectorLean.chroma &&
           std::abs(s.lightness) <= kMostSectorLean.lightness;
}

} // namespace

CompressedLab leaned(const ColourLean &lean, const CompressedLab &color)
{
    const auto tinted = leanedSectors(lean.sectors, leanedChroma(lean.chroma, leanedReds(lean.reds, color)));
    return leanedContrast(lean.contrast, tinted);
}

Result<Done> check(const ColourLean &lean)
{
    for (const int steps : {lean.reds, lean.chroma, lean.contrast})
        if (std::abs(steps) > kMostLean)
            return unusable("a lean of colour has −4 to 4 steps of reds, of chroma and of contrast");
    if (!std::all_of(lean.sectors.begin(), lean.sectors.end(), isWithin))
        return unusable(
            "a sector of hue can be changed by 15 degrees, 50 % of chroma and 15 of lightness, not "
            "by more");
    for (size_t i = 0; i < kHueSectors; ++i)
        if (std::abs(lean.sectors[i].hue - lean.sectors[(i + 1) % kHueSectors].hue) > kMostSectorTurn)
            return unusable("two sectors of hue side by side are turned apart by more than 15 degrees");
    return Done{};
}

} // namespace wavechroma
