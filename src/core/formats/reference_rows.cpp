#include "core/formats/reference_rows.h"

#include "core/color/illuminant.h"

#include <algorithm>
#include <cmath>

namespace wavechroma {

namespace {

std::string plainId(std::string id)
{
    std::transform(id.begin(), id.end(), id.begin(), ::toupper);
    const auto digit = id.find_first_of("0123456789");
    if (digit == id.npos)
        return id;
    const auto first = std::min(id.find_first_not_of('0', digit), id.size() - 1);
    return id.substr(0, digit) + id.substr(first);
}

/// Letters, then digits: a place on a chart, where "PAPER" is none.
bool isPlace(const std::string &id)
{
    const auto digit = id.find_first_of("0123456789");
    return digit != id.npos && digit > 0 && digit <= 2 && id.size() - digit <= 3 &&
           std::all_of(id.begin() + ptrdiff_t(digit), id.end(), ::isdigit) &&
           std::all_of(id.begin(), id.begin() + ptrdiff_t(digit), ::isupper);
}

} // namespace

words::Phrase labFault(double l, double a, double b)
{
    if (l < 0 || l > 110 || std::abs(a) > 200 || std::abs(b) > 200)
        return {"Lab {l:g} {a:g} {b:g} is not a colour of a surface", {{"l", l}, {"a", a}, {"b", b}}};
    return {};
}

Result<Done> ReferenceRows::add(const std::string &id, ChartPatch patch, int line)
{
    words::Phrase where{"{file}", {{"file", m_file}}};
    if (line > 0)
        where = {"{file}, line {line}", {{"file", m_file}, {"line", double(line)}}};
    if (id.empty())
        return unusable("{where}: a sample has no id", {{"where", where}});
    if (patch.reflectance) {
        auto &values = patch.reflectance->values;
        if (*std::max_element(values.begin(), values.end()) > 2) // in per cent
            for (auto &v : values)
                v /= 100;
        const auto [least, most] = std::minmax_element(values.begin(), values.end());
        if (*least < -0.05 || *most > 1.5)
            return unusable("{where}: sample {patch}: a reflectance of {value:g} is not that of a surface",
                            {{"where", where}, {"patch", id}, {"value", *least < -0.05 ? *least : *most}});
        patch.reference = xyzD50FromReflectance(*patch.reflectance, illuminantD50());
    }
    if (!m_patches.emplace(plainId(id), patch).second)
        return unusable("{where}: sample {patch} is there twice", {{"where", where}, {"patch", id}});
    return Done{};
}

Result<ChartDefinition> ReferenceRows::putInto(const ChartDefinition &chart) const
{
    ChartDefinition out = chart;
    std::vector<std::string> missing;
    for (auto &patch : out.patches) {
        const auto at = m_patches.find(patch.id);
        if (at == m_patches.end()) {
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
