#include "core/fit/colour_lean.h"

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

} // namespace

CompressedLab leaned(const ColourLean &lean, const CompressedLab &color)
{
    return leanedChroma(lean.chroma, leanedReds(lean.reds, color));
}

Result<Done> check(const ColourLean &lean)
{
    const bool known = std::abs(lean.reds) <= kMostLean && std::abs(lean.chroma) <= kMostLean;
    return known ? Result<Done>(Done{})
                 : unusable("a lean of colour has −4 to 4 steps of reds and of chroma");
}

} // namespace wavechroma
