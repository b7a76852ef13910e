#include "core/words/reference_words.h"

#include "core/base/said.h"
#include "core/color/de2000.h"
#include "core/color/lab.h"

namespace wavechroma::words {

namespace {

constexpr size_t kShown = 3;

Phrase kindOf(const TableReading &how)
{
    using Kind = TableReading::Kind;
    const bool isD50 = how.light.empty() || how.light == "D50";
    const Phrase light = isD50 ? Phrase{"D50"} : Phrase{"{light}, taken to D50", {{"light", how.light}}};
    switch (how.kind) {
    case Kind::Lab:
        return {words::said("L*, a*, b* under {light}"), {{"light", light}}};
    case Kind::Xyz:
        return {how.isPerCent ? words::said("X, Y, Z with 100 for white, under {light}")
                              : words::said("X, Y, Z with 1 for white, under {light}"),
                {{"light", light}}};
    case Kind::Spectra:
        return Phrase{how.isPerCent ? "spectra in per cent" : "spectra of 0 to 1"};
    case Kind::Srgb:
        return Phrase{"sRGB codes"};
    default:
        return {};
    }
}

std::string numbers(const Lab &lab)
{
    return filled("{l:0} {a:0} {b:0}", {{"l", lab.l}, {"a", lab.a}, {"b", lab.b}}, plain());
}

Phrase sentence(const std::string &file, const TableReading &how, const std::vector<std::string> &samples)
{
    return {words::said("{file}: read as {kind}. Lab of {samples}."),
            {{"file", file}, {"kind", kindOf(how)}, {"samples", joined(samples, ", ")}}};
}

} // namespace

Phrase tableRead(const std::string &file, const TableReading &how, const ChartDefinition &read,
                 const ChartDefinition &usual)
{
    if (how.kind == TableReading::Kind::None)
        return {};
    std::vector<std::string> samples;
    std::string worst;
    double most = -1;
    for (const auto &patch : read.patches) {
        const auto lab = labFromXyz(patch.reference);
        const auto *known = usual.colorsKnown ? usual.patch(patch.id) : nullptr;
        const auto before = known ? labFromXyz(known->reference) : lab;
        if (samples.size() < kShown)
            samples.push_back(patch.id + " " + numbers(lab) +
                              (known ? filled(" (usually {lab})", {{"lab", numbers(before)}}, plain()) : ""));
        if (const double difference = de2000(lab, before); known && difference > most) {
            most = difference;
            worst = patch.id;
        }
    }
    if (most < 0)
        return sentence(file, how, samples);
    return {words::said("{what} Farthest from its usual colour is {patch}, by ΔE {de:1}."),
            {{"what", sentence(file, how, samples)}, {"patch", worst}, {"de", most}}};
}

Phrase tableRead(const std::string &file, const TableReading &how,
                 const std::vector<std::pair<std::string, Lab>> &colours)
{
    if (how.kind == TableReading::Kind::None)
        return {};
    std::vector<std::string> samples;
    for (const auto &[name, lab] : colours)
        if (samples.size() < kShown)
            samples.push_back(name + " " + numbers(lab));
    return sentence(file, how, samples);
}

} // namespace wavechroma::words
