#include "core/fit/character.h"

#include <cmath>
#include <numbers>

namespace wavechroma {

namespace {

constexpr double kDegree = std::numbers::pi / 180;

double smoothStep(double from, double to, double x)
{
    const double t = std::fmin(1, std::fmax(0, (x - from) / (to - from)));
    return t * t * (3 - 2 * t);
}

CompressedLab calmReds(const CompressedLab &p)
{
    const double chroma = std::hypot(p.a, p.b), hue = std::atan2(p.b, p.a);
    const double off = std::remainder(hue - 30 * kDegree, 2 * std::numbers::pi) / (35 * kDegree);
    if (std::abs(off) >= 1)
        return p;
    const double share = smoothStep(4, 12, chroma) * 0.5 * (1 + std::cos(std::numbers::pi * off));
    const double calmed = chroma * (1 - 0.12 * share),
                 turned = hue + 0.1 * share * std::remainder(55 * kDegree - hue, 2 * std::numbers::pi);
    return {p.l, calmed * std::cos(turned), calmed * std::sin(turned)};
}

CompressedLab lively(const CompressedLab &p)
{
    const double chroma = std::hypot(p.a, p.b);
    const double gain = 1 + 0.12 * smoothStep(0, 8, chroma) * (1 - smoothStep(25, 45, chroma));
    return {p.l, p.a * gain, p.b * gain};
}

} // namespace

CompressedLab inCharacter(Character character, const CompressedLab &color)
{
    return character == Character::CalmReds ? calmReds(color)
           : character == Character::Lively ? lively(color)
                                            : color;
}

std::string nameOf(Character character)
{
    return character == Character::CalmReds ? "calm-reds"
           : character == Character::Lively ? "lively"
                                            : "exact";
}

std::optional<Character> characterNamed(const std::string &name)
{
    for (const auto character : {Character::Exact, Character::CalmReds, Character::Lively})
        if (nameOf(character) == name)
            return character;
    return std::nullopt;
}

} // namespace wavechroma
