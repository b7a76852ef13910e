#include "core/words/comparison_words.h"

#include "core/base/filled.h"
#include "core/base/said.h"

#include <algorithm>
#include <cmath>

namespace wavechroma::words {

namespace {

constexpr double kUnseen = 0.5; ///< of the mean over surface colours: hardly anybody tells the two apart

std::string verdict(const ErrorsCompared &errors, const Places &places, const Language &language)
{
    using enum ErrorsCompared::Better;
    if (errors.isAsSeen && errors.better == Neither)
        return filled("On patches that both may have been made from, their errors differ by {sign} {by:2}, "
                      "no more than "
                      "chance.",
                      places, language);
    if (errors.isAsSeen)
        return filled(
            errors.better == B
                ? said("B's errors are {sign} {by:2} smaller on patches that both may have been made from; a "
                       "chart that neither has seen would say which is better.")
                : said("A's errors are {sign} {by:2} smaller on patches that both may have been made from; a "
                       "chart that neither has seen would say which is better."),
            places, language);
    if (errors.better == Neither)
        return filled("The mean errors, {sign} {first:2} and {second:2}, differ by no more than chance: "
                      "neither is better on "
                      "these patches.",
                      places, language);
    return filled(
        errors.better == B
            ? said("B's errors are {sign} {by:2} smaller on average ({least:2} to {most:2}): B is better on "
                   "these patches.")
            : said("A's errors are {sign} {by:2} smaller on average ({least:2} to {most:2}): A is better on "
                   "these patches."),
        places, language);
}

void add(Places &places, const ErrorsCompared &e)
{
    const double low = std::abs(e.interval.low), high = std::abs(e.interval.high);
    places.insert(places.end(), {{"first", e.a.mean},
                                 {"second", e.b.mean},
                                 {"by", std::abs(e.difference)},
                                 {"least", std::min(low, high)},
                                 {"most", std::max(low, high)}});
}

std::string signOf(const Comparison &c)
{
    return rowOf(c.measure).sign;
}

} // namespace

std::string comparison(const Comparison &c, const Language &language)
{
    Places places{{"sign", signOf(c)}, {"mean", c.latticeMean}, {"max", c.latticeMax},
                  {"l", c.mostAt.l},   {"a", c.mostAt.a},       {"b", c.mostAt.b}};
    const auto apart =
        filled(c.latticeMean < kUnseen
                   ? said("Over surface colours they are {sign} {mean:2} apart: hardly anybody sees it.")
                   : said("Over surface colours they are {sign} {mean:2} apart, {max:1} at most, near L* "
                          "{l:0}, a* {a:0}, b* {b:0}."),
               places, language);
    if (!c.errors)
        return apart;
    add(places, *c.errors);
    return verdict(*c.errors, places, language) + " " + apart;
}

std::string comparedLimits(const Comparison &c, const Language &language)
{
    if (!c.limits || !c.errors)
        return {};
    const auto &limits = c.limits->limits;
    const Places places{
        {"sheet", c.limits->sheet}, {"sign", signOf(c)}, {"mean", limits.mean}, {"patch", limits.patch}};
    if (!limits.areSet())
        return filled("{sheet} sets no limits in {sign}.", places, language);
    const char *to = limits.mean > 0 && limits.patch > 0
                         ? said("Held to {sheet}, {sign} mean {mean:1} and any one patch {patch:1}:")
                     : limits.mean > 0 ? said("Held to {sheet}, {sign} mean {mean:1}:")
                                       : said("Held to {sheet}, {sign} any one patch {patch:1}:");
    const bool a = c.holds(c.errors->a), b = c.holds(c.errors->b);
    const char *verdict = a && b ? said("both pass.")
                          : a    ? said("A passes, B fails.")
                          : b    ? said("A fails, B passes.")
                                 : said("both fail.");
    return joined({filled(to, places, language), filled(verdict, {}, language)}, " ");
}

std::string comparedGroup(const Comparison &c, const Language &language)
{
    if (!c.group || c.group->patches.empty())
        return {};
    const auto &shift = c.group->shift;
    Places places{{"ids", joined(c.group->patches, ", ")},
                  {"l", shift.dL},
                  {"c", shift.dC},
                  {"h", shift.dh},
                  {"sign", signOf(c)}};
    const auto moved =
        filled("On {ids}, B less A: lightness {l:+2}, chroma {c:+2}, hue {h:+1}°.", places, language);
    if (!c.group->errors)
        return moved;
    add(places, *c.group->errors);
    const auto judged = c.group->patches.size() == 1
                            ? filled("A is off by {sign} {first:2}, B by {second:2}.", places, language)
                            : verdict(*c.group->errors, places, language);
    return joined({moved, judged}, " ");
}

} // namespace wavechroma::words
