#include "core/fit/parts.h"

#include "core/fit/fit_matrix.h"
#include "core/fit/part_balance.h"
#include "core/fit/part_field.h"
#include "core/fit/part_roots.h"
#include "core/fit/tone_curves.h"

#include <algorithm>
#include <cstring>

namespace wavechroma {

namespace {

constexpr const char *kAuto = "auto";

// A new part: its file, and its row here.
const ColourPart kColours[] = {
    {"balance", nullptr, false, 1, false, nullptr, fitBalancePart},
    {"matrix", nullptr, true, 1, true, nullptr, fitMatrixPart},
    {"roots", "matrix", true, 1.1, true, &rootBending(), fitRootsPart},
    {"field", "matrix", true, 1, false, &fieldBending(), fitFieldPart},
};

const TonePart kTones[] = {
    {"as-shot", false, nullptr},
    {"greys", false, fitGreysTone},
    {"channels", true, fitChannelsTone},
};

template <class Row> const Row *named(std::span<const Row> rows, const std::string &name)
{
    const auto at = std::find_if(rows.begin(), rows.end(), [&](const Row &row) { return name == row.name; });
    return at == rows.end() ? nullptr : &*at;
}

template <class Row>
Result<Done> checkName(std::span<const Row> rows, const char *what, const std::string &name)
{
    if (isAuto(name) || named(rows, name))
        return Done{};
    std::string known = kAuto;
    for (const auto &row : rows)
        known += std::string(", ") + row.name;
    return unusable("unknown {what} \"{file}\"; known: {known}",
                    {{"what", what}, {"file", name}, {"known", known}});
}

} // namespace

bool isAuto(const std::string &part)
{
    return part == kAuto;
}

bool isAuto(const Parts &parts)
{
    return isAuto(parts.colour) || isAuto(parts.tone);
}

size_t NumberLayout::recordSize() const
{
    size_t size = 0;
    for (const auto &column : columns)
        size += column.count;
    return size;
}

std::span<const ColourPart> colourParts()
{
    return kColours;
}

std::span<const TonePart> toneParts()
{
    return kTones;
}

const ColourPart *colourPart(const std::string &name)
{
    return named(colourParts(), name);
}

const TonePart *tonePart(const std::string &name)
{
    return named(toneParts(), name);
}

const Bending *bendingOf(const std::string &key)
{
    for (const auto &part : kColours)
        if (part.bends && key == part.bends->key)
            return part.bends;
    return nullptr;
}

Result<Done> check(const Parts &parts)
{
    const auto colour = checkName(colourParts(), "colour", parts.colour);
    return colour ? checkName(toneParts(), "tone", parts.tone) : colour;
}

std::vector<Parts> crossings(bool eachChannel)
{
    std::vector<Parts> out;
    for (const auto &tone : kTones)
        for (const auto &colour : kColours)
            if (eachChannel || !tone.eachChannelOnly)
                out.push_back({colour.name, tone.name});
    std::stable_sort(out.begin(), out.end(),
                     [](const Parts &a, const Parts &b) { return freedomOf(a) < freedomOf(b); });
    return out;
}

int freedomOf(const Parts &parts)
{
    const auto *colour = colourPart(parts.colour);
    const auto *tone = tonePart(parts.tone);
    return int(colour ? colour - kColours : 0) + 2 * int(tone ? tone - kTones : 0);
}

bool isBeyondMatrix(const Parts &parts)
{
    const auto *colour = colourPart(parts.colour);
    const auto *tone = tonePart(parts.tone);
    return (colour && colour->bends) || (tone && tone->fit);
}

const Parts &balanceAlone()
{
    static const Parts alone{"balance", kToneAsShot};
    return alone;
}

const Parts &plainParts()
{
    static const Parts plain{"matrix", "as-shot"};
    return plain;
}

std::vector<FittedPatch> patchesNamed(const std::vector<FittedPatch> &patches,
                                      const std::vector<std::string> &ids)
{
    std::vector<FittedPatch> out;
    for (const auto &patch : patches)
        if (std::count(ids.begin(), ids.end(), patch.id))
            out.push_back(patch);
    return out;
}

} // namespace wavechroma
