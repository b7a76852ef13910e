#include "core/fit/weights.h"

#include "core/base/number_text.h"
#include "core/color/de2000.h"
#include "core/color/lab.h"

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <sstream>

namespace wavechroma {

static bool isSkin(const Lab &lab)
{
    const auto lch = lchFromLab(lab);
    return lch.h >= 25 && lch.h <= 75 && lch.c >= 10 && lch.c <= 45 && lch.l >= 30 && lch.l <= 85;
}

Result<Weights> presetWeights(const std::string &preset, const ChartDefinition &chart)
{
    Weights out;
    if (preset == "even")
        return out;
    if (preset == "neutrals") {
        for (const auto &id : chart.neutral)
            out[id] = kFavoured;
        return out;
    }
    if (preset != "skin")
        return unusable(
            "unknown weights \"{preset}\"; known: even, neutrals, skin, or patches such as D1=4,C3=0.5",
            {{"preset", preset}});
    for (const auto &patch : chart.patches)
        if (isSkin(labFromXyz(patch.reference)))
            out[patch.id] = kFavoured;
    return out;
}

Weights weightsNear(const ChartDefinition &chart, const std::vector<Lab> &colours)
{
    Weights out;
    for (const auto &patch : chart.patches)
        for (const auto &colour : colours) {
            const double off = de2000(labFromXyz(patch.reference), colour) / 8;
            auto &weight = out.emplace(patch.id, 1).first->second;
            weight = std::max(weight, 1 + (kFavoured - 1) * std::exp(-0.5 * off * off));
        }
    return out;
}

static Result<Weights> weightsNear(const std::string &text, const ChartDefinition &chart)
{
    std::vector<Lab> colours;
    std::istringstream in(text);
    for (std::string part; std::getline(in, part, ';');) {
        Lab lab;
        char comma = 0, other = 0;
        std::istringstream numbers(part);
        if (!(numbers >> lab.l >> comma >> lab.a >> other >> lab.b) || comma != ',' || other != ',' ||
            !(lab.l >= 0 && lab.l <= 100))
            return unusable("weights: \"{part}\" is not a colour. Give L*, a*, b* as in near:52,40,20",
                            {{"part", part}});
        colours.push_back(lab);
    }
    if (colours.empty())
        return unusable("weights: the colour is missing. Give L*, a*, b* as in near:52,40,20");
    return weightsNear(chart, colours);
}

static constexpr double kMostWeight = 1000; ///< beyond it the others have no say, and digits are lost

Result<Weights> weightsFrom(const std::string &text, const ChartDefinition &chart)
{
    if (text.rfind("near:", 0) == 0)
        return weightsNear(text.substr(5), chart);
    if (text.find('=') == text.npos)
        return presetWeights(text, chart);
    Weights out;
    std::istringstream in(text);
    for (std::string part; std::getline(in, part, ',');) {
        const auto at = part.find('=');
        const std::string id = part.substr(0, at), number = at == part.npos ? "" : part.substr(at + 1);
        const auto weight = numberFrom(number);
        if (!chart.patch(id))
            return unusable("weights: there is no patch \"{patch}\" in the {chart}",
                            {{"patch", id}, {"chart", chart.name}});
        if (!weight || !(*weight > 0) || *weight > kMostWeight)
            return unusable("weights: \"{part}\" needs a weight above 0 and up to 1000. Use --without to "
                            "leave a patch out",
                            {{"part", part}});
        out[id] = *weight;
    }
    return out;
}

} // namespace wavechroma
