#include "core/words/frame_words.h"

#include "core/base/filled.h"
#include "core/base/said.h"
#include "core/words/check_words.h"

#include <cmath>

namespace wavechroma::words {

std::string lightChange(const LightChange &change, const Language &language)
{
    std::vector<std::string> parts;
    const auto say = [&](const char *templateText, double size) {
        parts.push_back(filled(templateText, {{"size", std::abs(size)}}, language));
    };
    const auto &seen = change.visible;
    if (seen.stops != 0)
        say(seen.stops > 0 ? words::said("{size:1} stops brighter") : words::said("{size:1} stops darker"),
            seen.stops);
    if (seen.warmth != 0)
        say(seen.warmth > 0 ? words::said("{size:%} warmer") : words::said("{size:%} cooler"), seen.warmth);
    if (seen.green != 0)
        say(seen.green > 0 ? words::said("{size:%} greener") : words::said("{size:%} rosier"), seen.green);
    return joined(parts, ", ");
}

std::string bracket(const BracketChoice &choice, const Language &language)
{
    const Places count{{"n", double(choice.count)}};
    if (!choice.usable) {
        const auto none = choice.isBurst
                              ? filled("None of the {n} frames of the burst can be used.", count, language)
                              : filled("None of the {n} exposures can be used.", count, language);
        const auto best = choice.trouble ? filled("The best: {message}",
                                                  {{"message", message(*choice.trouble, language)}}, language)
                                         : std::string();
        return joined({none, best});
    }
    if (choice.isBurst)
        return filled("The stillest of {n} frames, with the least glare.", count, language);
    std::string first = filled("The exposure of {n} that is nearest its aim", count, language);
    if (choice.stops) {
        const Places size{{"size", *choice.stops}};
        first += std::abs(*choice.stops) < kOnItsAim ? filled(", exactly at it", {}, language)
                 : *choice.stops > 0                 ? filled(", {size:stops} over", size, language)
                                                     : filled(", {size:stops} under", size, language);
    }
    if (choice.brighterClips)
        first += filled("; the brighter one is clipped", {}, language);
    if (choice.darkerIsNoisy)
        first += filled("; the darker one is too noisy", {}, language);
    return first + ".";
}

std::string scale(const ScaleVerdict &v, const Language &language)
{
    const Places places{{"ppi", v.scale.pixelsPerInch()},       {"mm", v.scale.pixelsPerMm},
                        {"error", std::abs(v.error)},           {"intended", v.intendedPpi},
                        {"bend", std::abs(v.scale.distortion)}, {"lean", v.scale.lean}};
    std::vector<std::string> parts{filled("{ppi} ppi, {mm:2} pixels a mm", places, language)};
    if (v.intendedPpi > 0)
        parts.push_back(filled(v.error > 0 ? "{error:%1} over the {intended} intended"
                                           : "{error:%1} under the {intended} intended",
                               places, language));
    if (v.isBent)
        parts.push_back(filled("the lens bends lines by {bend:%1}", places, language));
    if (v.isLeaning)
        parts.push_back(filled("not square: one side is {lean:%1} larger", places, language));
    return joined(parts, "; ");
}

std::string flat(const FlatVerdict &verdict, const Language &language)
{
    if (!verdict.serves)
        return filled(verdict.refusal, language);
    return filled("Falls off by {before:%1}; evened to {after:%2}. Its brightest spot is {under:stops} under "
                  "saturation.",
                  {{"before", verdict.before}, {"after", verdict.after}, {"under", verdict.stopsUnder}},
                  language);
}

std::string renderedCost(const RenderedCost &cost, const Language &language)
{
    const auto first = filled(
        "This picture is already rendered. The shift of {stops:stops} clips a channel in {clips:%1} of it, "
        "tints {tinted:%1} that was white, and leaves a channel empty in {empties:%1}.",
        {{"stops", cost.stops}, {"clips", cost.clips}, {"tinted", cost.tinted}, {"empties", cost.empties}},
        language);
    return cost.tooLarge
               ? joined(
                     {first,
                      filled("This shift is too large for a rendered picture. Balance the raw file instead.",
                             {}, language)})
               : first;
}

} // namespace wavechroma::words
