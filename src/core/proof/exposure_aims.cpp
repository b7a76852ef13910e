#include "core/proof/exposure_aims.h"

#include "core/balance/balance.h"
#include "core/base/number_text.h"
#include "core/color/lab.h"

#include <algorithm>
#include <cmath>
#include <sstream>

namespace wavechroma {

namespace {

/// Relative luminance, of the light's white, that the aim stands for.
double luminanceOf(const ExposureAim &aim, double value)
{
    return aim.space ? linearised(aim.space->transfer, value / 255) : xyzFromLab({value, 0, 0}).y;
}

double valueOf(const ExposureAim &aim, double luminance)
{
    return aim.space ? 255 * encoded(aim.space->transfer, luminance)
                     : labFromXyz({luminance * kD50White.x, luminance, luminance * kD50White.z}).l;
}

} // namespace

std::vector<AimedNeutral> aimedNeutrals(const Calibration &calibration, const Reading &reading,
                                        const ChartDefinition &chart, const ExposureAims &aims)
{
    std::vector<AimedNeutral> out;
    for (const auto &id : chart.neutral) {
        const auto *patch = reading.patch(id);
        const auto *reference = chart.patch(id);
        if (!patch || !reference)
            continue;
        const auto given = aims.find(id);
        const ExposureAim aim =
            given != aims.end() ? given->second : ExposureAim{labFromXyz(reference->reference).l, 1, {}};
        AimedNeutral one{id, aim.space.has_value(), 0, aim.value, aim.tolerance};
        one.usable = isUsable(*patch);
        const double y = xyzFromCamera(calibration, patch->mean).y;
        if (one.usable && y > 0) {
            one.seen = valueOf(aim, y);
            one.stops = std::log2(luminanceOf(aim, aim.value) / y);
            one.passes = std::abs(one.seen - aim.value) <= aim.tolerance;
        }
        out.push_back(one);
    }
    return out;
}

static bool takeMark(std::string_view &rest, std::string_view mark)
{
    const bool isThere = rest.starts_with(mark);
    if (isThere)
        rest.remove_prefix(mark.size());
    return isThere;
}

/// "92", "92±0.5", "242@srgb", "95%", "95%±1@oprgb": what stands behind the equals sign.
static Result<ExposureAim> aimFrom(std::string_view rest, const std::string &part)
{
    ExposureAim aim;
    if (const auto at = rest.find('@'); at != rest.npos) {
        const std::string space(rest.substr(at + 1));
        aim.space = rgbSpaceFromId(space);
        if (!aim.space)
            return unusable("aims: unknown space \"{space}\"; known: srgb, display-p3, oprgb, romm",
                            {{"space", space}});
        rest = rest.substr(0, at);
    }
    const bool isShare = rest.find('%') != rest.npos;
    if (isShare && !aim.space)
        aim.space = rgbSpaceFromId("srgb");
    aim.value = takeNumber(rest).value_or(0);
    takeMark(rest, "%");
    if (aim.space)
        aim.tolerance = 3;
    if (takeMark(rest, "±") || takeMark(rest, "+-")) {
        aim.tolerance = takeNumber(rest).value_or(0) * (isShare ? 2.55 : 1);
        takeMark(rest, "%");
    }
    aim.value *= isShare ? 2.55 : 1;
    if (!rest.empty() || !(aim.value > 0 && aim.value <= (aim.space ? 255 : 100)) || !(aim.tolerance > 0))
        return unusable(isShare     ? "aims: \"{part}\" is not a share above 0 and up to 100 %"
                        : aim.space ? "aims: \"{part}\" is not a code from 1 to 255"
                                    : "aims: \"{part}\" is not an L* above 0 and up to 100",
                        {{"part", part}});
    return aim;
}

Result<ExposureAims> aimsFrom(const std::string &text)
{
    ExposureAims out;
    std::istringstream in(text);
    for (std::string part; std::getline(in, part, ',');) {
        std::erase(part, ' ');
        const auto equals = part.find('=');
        if (equals == part.npos)
            return unusable("aims: \"{part}\" is not an aim. Write D1=92, D1=92±0.5, D1=242@srgb or D1=95%",
                            {{"part", part}});
        const auto aim = aimFrom(std::string_view(part).substr(equals + 1), part);
        if (!aim)
            return aim.error();
        out[part.substr(0, equals)] = *aim;
    }
    return out;
}

Result<ExposureAims> aimsFrom(const std::string &text, const ChartDefinition &chart)
{
    auto out = aimsFrom(text);
    if (!out)
        return out;
    for (const auto &[id, aim] : *out) {
        if (!chart.patch(id))
            return unusable("aims: there is no patch \"{patch}\" in the {chart}",
                            {{"patch", id}, {"chart", chart.name}});
        if (std::find(chart.neutral.begin(), chart.neutral.end(), id) == chart.neutral.end())
            return unusable("aims: {patch} is no neutral of the {chart}; levels are judged by neutrals",
                            {{"patch", id}, {"chart", chart.name}});
    }
    return out;
}

} // namespace wavechroma
