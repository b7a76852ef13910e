#include "core/formats/reference_rows.h"

#include "core/base/filled.h"
#include "core/base/letters.h"
#include "core/base/said.h"
#include "core/color/adaptation.h"
#include "core/color/illuminant.h"
#include "core/color/lab.h"

#include <algorithm>
#include <cmath>

namespace wavechroma {

namespace {

/// Letters, then digits: a place on a chart, where "PAPER" is none.
bool isPlace(const std::string &id)
{
    const auto digit = id.find_first_of("0123456789");
    return digit != id.npos && digit > 0 && digit <= 2 && id.size() - digit <= 3 &&
           std::all_of(id.begin() + ptrdiff_t(digit), id.end(), letters::isDigit) &&
           std::all_of(id.begin(), id.begin() + ptrdiff_t(digit), letters::isUpper);
}

} // namespace

std::string plainPatchId(std::string id)
{
    id = letters::upper(std::move(id));
    const auto digit = id.find_first_of("0123456789");
    if (digit == id.npos)
        return id;
    const auto first = std::min(id.find_first_not_of('0', digit), id.size() - 1);
    return id.substr(0, digit) + id.substr(first);
}

words::Phrase labFault(double l, double a, double b)
{
    if (l < 0 || l > 110 || std::abs(a) > 200 || std::abs(b) > 200)
        return {words::said("Lab {l:g} {a:g} {b:g} is not a colour of a surface"),
                {{"l", l}, {"a", a}, {"b", b}}};
    return {};
}

words::Phrase xyzFault(double x, double y, double z)
{
    // white under A has X 110, under D75 Z 123; brightened paper a little more
    constexpr double kMostY = 130, kMostXz = 200;
    if (std::min({x, y, z}) >= 0 && y <= kMostY && std::max(x, z) <= kMostXz)
        return {};
    return {words::said("XYZ {x:g} {y:g} {z:g} is not the colour of a surface, with Y 0 to 100"),
            {{"x", x}, {"y", y}, {"z", z}}};
}

Result<Done> ReferenceRows::add(const std::string &id, ChartPatch patch, int line, std::optional<Xyz> beside)
{
    words::Phrase where{"{file}", {{"file", m_file}}};
    if (line > 0)
        where = {words::said("{file}, line {line}"), {{"file", m_file}, {"line", double(line)}}};
    if (id.empty())
        return unusable("{where}: a sample has no id", {{"where", where}});
    if (!m_patches.emplace(plainPatchId(id), patch).second)
        return unusable("{where}: sample {patch} is there twice", {{"where", where}, {"patch", id}});
    if (beside)
        m_both.push_back({patch.reference, *beside});
    m_names.push_back(id);
    m_lines[plainPatchId(id)] = line;
    return Done{};
}

bool ReferenceRows::hasColours() const
{
    return std::any_of(m_patches.begin(), m_patches.end(),
                       [](const auto &p) { return !p.second.reflectance; });
}

double ReferenceRows::lightestY() const
{
    double out = 0;
    for (const auto &[id, patch] : m_patches)
        if (!patch.reflectance)
            out = std::max(out, patch.reference.y);
    return out;
}

double ReferenceRows::largestReflectance() const
{
    double out = 0;
    for (const auto &[id, patch] : m_patches)
        if (patch.reflectance)
            out = std::max(
                out, *std::max_element(patch.reflectance->values.begin(), patch.reflectance->values.end()));
    return out;
}

/// A fluorescent paper reflects up to a fifth more than it gets at some wavelengths.
constexpr double kMostShare = 1.2;
/// XYZ up to here may be shares of white: no chart is all under 1.3 per cent.
constexpr double kMostXyzShare = 1.3 / 100;

TableReading ReferenceRows::reading() const
{
    using Kind = TableReading::Kind;
    if (!hasColours())
        return {Kind::Spectra, largestReflectance() > kMostShare, {}};
    const bool isPerCent = m_isPerCent || lightestY() > kMostXyzShare;
    return {m_isLab ? Kind::Lab : Kind::Xyz, !m_isLab && isPerCent,
            m_heading.illuminant.empty() ? "D50" : m_heading.illuminant};
}

Result<ChartPatch> ReferenceRows::finished(const std::string &id, const ChartPatch &patch, double scale) const
{
    ChartPatch out = patch;
    if (!patch.reflectance) {
        const auto adapt = toD50();
        if (!adapt)
            return adapt.error();
        out.reference =
            (*adapt)({scale * patch.reference.x, scale * patch.reference.y, scale * patch.reference.z});
        return out;
    }
    auto &values = out.reflectance->values;
    const double unit = largestReflectance() > kMostShare ? 100 : 1;
    for (auto &v : values)
        v /= unit;
    const auto [least, most] = std::minmax_element(values.begin(), values.end());
    if (*least < -0.05 || *most > 1.5) {
        const int line = m_lines.at(id);
        words::Phrase where{"{file}", {{"file", m_file}}};
        if (line > 0)
            where = {words::said("{file}, line {line}"), {{"file", m_file}, {"line", double(line)}}};
        return unusable("{where}: sample {patch}: a reflectance of {value:g} is not that of a surface",
                        {{"where", where}, {"patch", id}, {"value", *least < -0.05 ? *least : *most}});
    }
    out.reference = xyzD50FromReflectance(*out.reflectance, illuminantD50());
    return out;
}

Result<Done> ReferenceRows::checkBeside() const
{
    const auto light = m_heading.illuminant.empty() ? std::string("D50") : m_heading.illuminant;
    if (m_both.empty() || agreeUnder(light, m_both))
        return Done{};
    if (const auto other = lightOfAgreement(m_both))
        return m_heading.illuminant.empty()
                   ? unusable("{file}: its L*, a*, b* and X, Y, Z are the same colours under {other}, but no "
                              "line names that "
                              "light. Add \"# illuminant: {other}\", or give only one of the two",
                              {{"file", m_file}, {"other", *other}})
                   : unusable("{file}: its L*, a*, b* and X, Y, Z are the same colours under {other}, but "
                              "its light is "
                              "said to be {light}. Give the right light, or only one of the two",
                              {{"file", m_file}, {"other", *other}, {"light", light}});
    return unusable("{file}: its L*, a*, b* and X, Y, Z are not the same colours. Give the table with only "
                    "one of the two",
                    {{"file", m_file}});
}

Result<ReferenceRows::ById> ReferenceRows::all(double scaleOfColours) const
{
    if (const auto agree = checkBeside(); !agree)
        return agree.error();
    ById out;
    for (const auto &[id, patch] : m_patches) {
        auto done = finished(id, patch, scaleOfColours);
        if (!done)
            return done.error();
        out.emplace(id, std::move(*done));
    }
    return out;
}

Result<std::vector<std::pair<std::string, Xyz>>> ReferenceRows::colours() const
{
    if (hasColours() && !m_isLab && !m_isPerCent && lightestY() <= kMostXyzShare)
        return unusable(
            "{file}: its largest Y is {y:g}, which may be per cent of white, L* {dark:0}, or a share of "
            "it, L* {light:0}. Give L*, a*, b*, or add a row for white",
            {{"file", m_file},
             {"y", 100 * lightestY()},
             {"dark", labFromXyz({0, lightestY(), 0}).l},
             {"light", labFromXyz({0, 100 * lightestY(), 0}).l}});
    const auto patches = all(1);
    if (!patches)
        return patches.error();
    std::vector<std::pair<std::string, Xyz>> out;
    for (const auto &name : m_names)
        out.emplace_back(name, patches->at(plainPatchId(name)).reference);
    return out;
}

Result<std::function<Xyz(const Xyz &)>> ReferenceRows::toD50() const
{
    if (m_heading.observerDegrees == 10)
        return unusable(
            "{file}: its colours are for the observer of 10°, and all else here is for that of 2°; give "
            "the table for 2°, or spectra",
            {{"file", m_file}});
    if (m_heading.illuminant.empty() || m_heading.illuminant == "D50")
        return std::function<Xyz(const Xyz &)>([](const Xyz &xyz) { return xyz; });
    const auto light = lightFromName(m_heading.illuminant);
    if (!light)
        return unusable(
            "{file}: its colours are under {light}, which cannot be taken to D50 here; give the table "
            "for D50, or spectra",
            {{"file", m_file}, {"light", m_heading.illuminant}});
    const Xyz white = xyzFromChromaticity(light->xy);
    const auto adapted = adaptation(white, kD50White);
    return std::function<Xyz(const Xyz &)>([adapted, white, isLab = m_isLab](Xyz xyz) {
        if (isLab) // which was taken as against D50's white
            xyz = {xyz.x * white.x / kD50White.x, xyz.y, xyz.z * white.z / kD50White.z};
        return xyzOf(adapted * vectorOf(xyz));
    });
}

Result<ChartDefinition> ReferenceRows::putInto(const ChartDefinition &chart) const
{
    ChartDefinition out = chart;
    const bool areShares = !m_isLab && lightestY() > 0 && lightestY() <= kMostXyzShare;
    const auto patches = all(areShares ? 100 : 1);
    if (!patches)
        return patches.error();
    std::vector<std::string> missing;
    for (auto &patch : out.patches) {
        const auto at = patches->find(patch.id);
        if (at == patches->end()) {
            missing.push_back(patch.id);
            continue;
        }
        patch.reference = at->second.reference;
        patch.reflectance = at->second.reflectance;
    }
    if (!missing.empty())
        return unusable("{file}: has no values for {missing} of {all} patches: {some}",
                        {{"file", m_file},
                         {"missing", double(missing.size())},
                         {"all", double(out.patches.size())},
                         {"some", words::listed(missing, words::plain())}});
    for (const auto &[id, patch] : m_patches)
        if (isPlace(id) && !chart.patch(id))
            return unusable("{file}: has {samples} samples and a value for {patch}, but the {chart} has only "
                            "{all} patches: it is another chart's",
                            {{"file", m_file},
                             {"samples", double(m_patches.size())},
                             {"patch", id},
                             {"chart", chart.name},
                             {"all", double(chart.patches.size())}});
    out.colorsKnown = true;
    out.reference = {"D50", "CIE 1931 2°", m_file, ""};
    return out;
}

} // namespace wavechroma
