#include "core/formats/reference_rows.h"

#include "core/color/illuminant.h"

#include "core/color/adaptation.h"
#include "core/color/lab.h"

#include <algorithm>
#include <cmath>
#include <sstream>

namespace wavechroma {

namespace {

/// Letters, then digits: a place on a chart, where "PAPER" is none.
bool isPlace(const std::string &id)
{
    const auto digit = id.find_first_of("0123456789");
    return digit != id.npos && digit > 0 && digit <= 2 && id.size() - digit <= 3 &&
           std::all_of(id.begin() + ptrdiff_t(digit), id.end(), ::isdigit) &&
           std::all_of(id.begin(), id.begin() + ptrdiff_t(digit), ::isupper);
}

} // namespace

std::string plainPatchId(std::string id)
{
    std::transform(id.begin(), id.end(), id.begin(), ::toupper);
    const auto digit = id.find_first_of("0123456789");
    if (digit == id.npos)
        return id;
    const auto first = std::min(id.find_first_not_of('0', digit), id.size() - 1);
    return id.substr(0, digit) + id.substr(first);
}

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
    if (!m_patches.emplace(plainPatchId(id), patch).second)
        return unusable("{where}: sample {patch} is there twice", {{"where", where}, {"patch", id}});
    m_names.push_back(id);
    return Done{};
}

/// No chart is all under 1.3 per cent.
double ReferenceRows::scaleOfColours() const
{
    double lightest = 0;
    for (const auto &[id, patch] : m_patches)
        if (!patch.reflectance)
            lightest = std::max(lightest, patch.reference.y);
    return lightest > 0 && lightest <= 0.013 ? 100 : 1;
}

Result<std::vector<std::pair<std::string, Xyz>>> ReferenceRows::colours() const
{
    std::vector<std::pair<std::string, Xyz>> out;
    const double scale = scaleOfColours();
    for (const auto &name : m_names) {
        const auto &patch = m_patches.at(plainPatchId(name));
        const auto &given = patch.reference;
        if (patch.reflectance) {
            out.emplace_back(name, given);
            continue;
        }
        const auto adapt = toD50();
        if (!adapt)
            return adapt.error();
        out.emplace_back(name, (*adapt)({scale * given.x, scale * given.y, scale * given.z}));
    }
    return out;
}

/// Letters and digits between anything else.
static std::vector<std::string> wordsIn(const std::string &text)
{
    std::vector<std::string> out(1);
    for (const unsigned char c : text)
        if (std::isalnum(c))
            out.back() += char(std::toupper(c));
        else if (!out.back().empty())
            out.emplace_back();
    return out;
}

ReferenceHeading headingOf(const std::string &text)
{
    const auto isLight = [](const std::string &word) {
        const bool isF =
            word.size() >= 2 && word[0] == 'F' && std::isdigit(uint8_t(word[1])) && word.size() <= 3;
        return isF || word == "A" || word == "C" || word == "E" || word == "D50" || word == "D55" ||
               word == "D65" || word == "D75";
    };
    ReferenceHeading out;
    std::istringstream in(text);
    for (std::string line; std::getline(in, line) && line != "BEGIN_DATA";) {
        bool ofLight = false, ofObserver = false;
        for (auto word : wordsIn(line)) {
            if (word.rfind("ILLUMIN", 0) == 0)
                ofLight = true;
            else if (word.rfind("OBSERVER", 0) == 0)
                ofObserver = true;
            else if (ofLight && out.illuminant.empty() && isLight(word))
                out.illuminant = word;
            else if (ofObserver && (word.rfind("10", 0) == 0 || word == "1964"))
                out.observerDegrees = 10;
            else if (ofObserver && (word.rfind("2", 0) == 0 || word == "1931"))
                out.observerDegrees = 2;
        }
    }
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
    return std::function<Xyz(const Xyz &)>([adapted, white, isLab = m_heading.isLab](Xyz xyz) {
        if (isLab) // which was taken as against D50's white
            xyz = {xyz.x * white.x / kD50White.x, xyz.y, xyz.z * white.z / kD50White.z};
        return xyzOf(adapted * vectorOf(xyz));
    });
}

Result<ChartDefinition> ReferenceRows::putInto(const ChartDefinition &chart) const
{
    ChartDefinition out = chart;
    const auto isColour = [](const auto &row) { return !row.second.reflectance; };
    const bool anyColour = std::any_of(m_patches.begin(), m_patches.end(), isColour);
    const auto adapt = anyColour ? toD50() : std::function<Xyz(const Xyz &)>();
    if (!adapt)
        return adapt.error();
    const double scale = scaleOfColours();
    std::vector<std::string> missing;
    for (auto &patch : out.patches) {
        const auto at = m_patches.find(patch.id);
        if (at == m_patches.end()) {
            missing.push_back(patch.id);
            continue;
        }
        const auto &given = at->second.reference;
        patch.reference =
            isColour(*at) ? (*adapt)({scale * given.x, scale * given.y, scale * given.z}) : given;
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
