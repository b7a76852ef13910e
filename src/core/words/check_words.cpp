#include "core/words/check_words.h"

#include "core/base/filled.h"
#include "core/base/said.h"

namespace wavechroma::words {

namespace {

/// What a check may find: its id and finding, and the templates of what is so, what to do, and what to do in
/// one sentence for across the room, where that has to say more.
struct CheckTemplate
{
    CheckId id;
    const char *finding, *isSo, *toDo, *across = nullptr;
};

constexpr CheckTemplate kTemplates[] = {
    {CheckId::Found, "found", words::said("{n} {n|patch|patches} found."), ""},
    {CheckId::Found, "not-found", words::said("No {chart} in this frame."),
     words::said("Show the whole chart, from the front, away from the edges.")},
    {CheckId::Found, "none-of-catalogue", words::said("No known chart in this frame."),
     words::said("Show the whole chart, from the front, away from the edges.")},
    {CheckId::Found, "cube-by-corners", words::said("No grey cube with two faces is found in this frame."),
     words::said(
         "Show both faces of the cube, an edge towards the camera, or place it by its four corners.")},
    {CheckId::Clipping, "none", words::said("Nothing is clipped."), ""},
    {CheckId::Clipping, "clipped", words::said("{patches} {n|is|are} clipped."),
     words::said("Close down {stops:stops}.")},
    {CheckId::Exposure, "no-neutral", words::said("This chart names no neutral to judge the exposure by."),
     ""},
    {CheckId::Exposure, "cannot-tell",
     words::said("Exposure cannot be judged: every neutral is clipped or not read."), ""},
    {CheckId::Exposure, "at-aim", words::said("{patches} is at its aim."), ""},
    {CheckId::Exposure, "over", words::said("{patches} is {value:stops} over its aim."),
     words::said("Close down {stops:stops}.")},
    {CheckId::Exposure, "under", words::said("{patches} is {value:stops} under its aim."),
     words::said("Open up {stops:stops}.")},
    {CheckId::Underexposure, "none", words::said("No patch is lost in noise."), ""},
    {CheckId::Underexposure, "noisy", words::said("{patches} {n|is|are} too close to the noise."),
     words::said("Open up, or lower the ISO.")},
    {CheckId::Underexposure, "gamut",
     words::said(
         "The picture's colour space does not hold {patches}: a channel of {n|it|them} is at its end."),
     ""},
    {CheckId::Evenness, "even", words::said("Evenly lit, within {value:%}."), ""},
    {CheckId::Evenness, "too-few", words::said("Too few patches to judge how even the light is."), ""},
    {CheckId::Evenness, "field",
     words::said("The darkest part of the field is {value:%} darker than the lightest."), "",
     words::said("Even the light: part of the field is {value:%} darker.")},
    {CheckId::Evenness, "side", words::said("The {side} is {value:%} darker."), "",
     words::said("Turn the chart to the lamp: the {side} is {value:%} darker.")},
    {CheckId::Shadow, "none", words::said("No shadow's edge."), ""},
    {CheckId::Shadow, "edge",
     words::said("A shadow lies over the {side}, {stops:stops} darker: {n} {n|patch|patches}."),
     words::said("Move what stands in the light."),
     words::said("Clear the shadow from the chart: the {side} is {stops:stops} darker.")},
    {CheckId::Glare, "none", words::said("No glare."), ""},
    {CheckId::Glare, "glare", words::said("Glare on {patches}."),
     words::said("Turn the chart or move the lamp."),
     words::said("Turn the chart or move the lamp: glare on {patches}.")},
    {CheckId::Focus, "sharp", "Sharp.", ""},
    {CheckId::Focus, "too-small", words::said("The chart is too small in the frame to judge the focus."), ""},
    {CheckId::Focus, "shaken", words::said("Shaken by {value:1} pixels."),
     words::said("Use a firmer stand or a shorter time."),
     words::said("Use a firmer stand or a shorter time.")},
    {CheckId::Focus, "soft", words::said("Out of focus by {value:1} pixels."), "",
     words::said("Focus again: it is off by {value:1} pixels.")},
    {CheckId::Noise, "low", words::said("Noise is low."), ""},
    {CheckId::Noise, "no-grey", words::said("No middle grey to judge the noise by."), ""},
    {CheckId::Noise, "noisy", words::said("{value:%} noise in {patches}."),
     words::said("Lower the ISO or open up.")},
    {CheckId::Flare, "none", words::said("No veil of stray light."), ""},
    {CheckId::Flare, "veil", words::said("Stray light lies over the chart, {value:%1} of white."),
     words::said("Shade the lens.")},
    {CheckId::Obstruction, "none", words::said("Nothing covers the chart."), ""},
    {CheckId::Obstruction, "one", words::said("Something covers {patches}, or it is dirty."), "",
     words::said("Clear {patches}: something covers it.")},
    {CheckId::Obstruction, "several", words::said("Something covers {patches}, or a shadow does."), "",
     words::said("Clear {patches}: something covers them, or a shadow does.")},
    {CheckId::Obstruction, "colour",
     words::said("The colour of {patches} is not the chart's, though nothing is seen to lie there."),
     words::said("Is it faded or soiled, or has the chart other values?")},
    {CheckId::Match, "fits", words::said("The pattern of colours matches."), ""},
    {CheckId::Match, "other", words::said("The colours are not those of the {chart}."),
     words::said("Is it another chart, or placed the wrong way up?"),
     words::said("Look at the chart: its colours are not the {chart}'s.")},
    {CheckId::Match, "values-unknown", words::said("The values of the {chart} are not known."),
     words::said(
         "They come with the chart, from its maker, or from measuring it: give them as --reference, or "
         "under Charts.")},
};

const CheckTemplate *templateOf(const Check &check)
{
    for (const auto &one : kTemplates)
        if (check.id == one.id && check.finding == one.finding)
            return &one;
    return nullptr;
}

Places placesOf(const Check &check, const Language &language)
{
    const bool isCount = check.unit == "confidence"; // the check `found` counts its patches
    return {{"n", double(isCount ? check.count : int(check.patches.size()))},
            {"patches", listed(check.patches, language)},
            {"value", check.value},
            {"stops", check.stops.value_or(0)},
            {"side", side(check.side, language)},
            {"chart", check.chart}};
}

constexpr const char *kSides[] = {"",
                                  "left",
                                  "right",
                                  "top",
                                  "bottom",
                                  words::said("top left"),
                                  words::said("top right"),
                                  words::said("bottom left"),
                                  words::said("bottom right")};

} // namespace

std::string side(Side side, const Language &language)
{
    return filled(kSides[size_t(side)], {}, language);
}

std::string finding(const Check &check, const Language &language)
{
    const auto *found = templateOf(check);
    return found ? filled(found->isSo, placesOf(check, language), language) : std::string();
}

std::string advice(const Check &check, const Language &language)
{
    const auto *found = templateOf(check);
    if (!found)
        return {};
    const std::string_view toDo = found->toDo;
    if (toDo.find("{stops") != toDo.npos && !check.stops)
        return {};
    return filled(toDo, placesOf(check, language), language);
}

std::string across(const Check &check, const Language &language)
{
    const auto *found = templateOf(check);
    if (found && found->across)
        return filled(found->across, placesOf(check, language), language);
    const auto toDo = advice(check, language);
    return toDo.empty() ? finding(check, language) : toDo;
}

std::string message(const Check &check, const Language &language)
{
    const auto seen = check.seenInstead.empty()
                          ? std::string()
                          : filled("It looks like the {chart}.", {{"chart", check.seenInstead}}, language);
    return joined({finding(check, language), advice(check, language), seen});
}

} // namespace wavechroma::words
