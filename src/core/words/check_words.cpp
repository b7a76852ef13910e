#include "core/words/check_words.h"

#include "core/base/filled.h"

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
    {CheckId::Found, "found", "{n} {n|patch|patches} found.", ""},
    {CheckId::Found, "not-found", "No {chart} in this frame.",
     "Show the whole chart, from the front, away from the edges."},
    {CheckId::Found, "none-of-catalogue", "No known chart in this frame.",
     "Show the whole chart, from the front, away from the edges."},
    {CheckId::Found, "cube-by-corners",
     "A grey cube must be placed by its four corners; its greys cannot be told from other greys.", ""},
    {CheckId::Clipping, "none", "Nothing is clipped.", ""},
    {CheckId::Clipping, "clipped", "{patches} {n|is|are} clipped.", "Close down {stops:stops}."},
    {CheckId::Exposure, "no-neutral", "This chart names no neutral to judge the exposure by.", ""},
    {CheckId::Exposure, "cannot-tell", "Exposure cannot be judged: every neutral is clipped or not read.",
     ""},
    {CheckId::Exposure, "at-aim", "{patches} is at its aim.", ""},
    {CheckId::Exposure, "over", "{patches} is {value:stops} over its aim.", "Close down {stops:stops}."},
    {CheckId::Exposure, "under", "{patches} is {value:stops} under its aim.", "Open up {stops:stops}."},
    {CheckId::Underexposure, "none", "No patch is lost in noise.", ""},
    {CheckId::Underexposure, "noisy", "{patches} {n|is|are} too close to the noise.",
     "Open up, or lower the ISO."},
    {CheckId::Evenness, "even", "Evenly lit, within {value:%}.", ""},
    {CheckId::Evenness, "too-few", "Too few patches to judge how even the light is.", ""},
    {CheckId::Evenness, "field", "The darkest part of the field is {value:%} darker than the lightest.", "",
     "Even the light: part of the field is {value:%} darker."},
    {CheckId::Evenness, "side", "The {side} is {value:%} darker.", "",
     "Turn the chart to the lamp: the {side} is {value:%} darker."},
    {CheckId::Shadow, "none", "No shadow's edge.", ""},
    {CheckId::Shadow, "edge", "A shadow lies over the {side}, {stops:stops} darker: {n} {n|patch|patches}.",
     "Move what stands in the light.",
     "Clear the shadow from the chart: the {side} is {stops:stops} darker."},
    {CheckId::Glare, "none", "No glare.", ""},
    {CheckId::Glare, "glare", "Glare on {patches}.", "Turn the chart or move the lamp.",
     "Turn the chart or move the lamp: glare on {patches}."},
    {CheckId::Focus, "sharp", "Sharp.", ""},
    {CheckId::Focus, "too-small", "The chart is too small in the frame to judge the focus.", ""},
    {CheckId::Focus, "shaken", "Shaken by {value:1} pixels.", "Use a firmer stand or a shorter time.",
     "Use a firmer stand or a shorter time."},
    {CheckId::Focus, "soft", "Out of focus by {value:1} pixels.", "",
     "Focus again: it is off by {value:1} pixels."},
    {CheckId::Noise, "low", "Noise is low.", ""},
    {CheckId::Noise, "no-grey", "No middle grey to judge the noise by.", ""},
    {CheckId::Noise, "noisy", "{value:%} noise in {patches}.", "Lower the ISO or open up."},
    {CheckId::Flare, "none", "No veil of stray light.", ""},
    {CheckId::Flare, "veil", "Stray light lies over the chart, {value:%1} of white.", "Shade the lens."},
    {CheckId::Obstruction, "none", "Nothing covers the chart.", ""},
    {CheckId::Obstruction, "one", "Something covers {patches}, or it is dirty.", "",
     "Clear {patches}: something covers it."},
    {CheckId::Obstruction, "several", "Something covers {patches}, or a shadow does.", "",
     "Clear {patches}: something covers them, or a shadow does."},
    {CheckId::Match, "fits", "The pattern of colours matches.", ""},
    {CheckId::Match, "other", "The colours are not those of the {chart}.",
     "Is it another chart, or placed the wrong way up?",
     "Look at the chart: its colours are not the {chart}'s."},
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

constexpr const char *kSides[] = {"",         "left",      "right",       "top",         "bottom",
                                  "top left", "top right", "bottom left", "bottom right"};

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
