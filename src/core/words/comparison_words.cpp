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

} // namespace

std::string comparison(const Comparison &c, const Language &language)
{
    Places places{{"sign", std::string(kDifferenceMeasures[size_t(c.measure)].sign)},
                  {"mean", c.latticeMean},
                  {"max", c.latticeMax},
                  {"l", c.mostAt.l},
                  {"a", c.mostAt.a},
                  {"b", c.mostAt.b}};
    const auto apart =
        filled(c.latticeMean < kUnseen
                   ? said("Over surface colours they are {sign} {mean:2} apart: hardly anybody sees it.")
                   : said("Over surface colours they are {sign} {mean:2} apart, {max:1} at most, near L* "
                          "{l:0}, a* {a:0}, b* {b:0}."),
               places, language);
    if (!c.errors)
        return apart;
    const auto &e = *c.errors;
    const double low = std::abs(e.interval.low), high = std::abs(e.interval.high);
    places.insert(places.end(), {{"first", e.a.mean},
                                 {"second", e.b.mean},
                                 {"by", std::abs(e.difference)},
                                 {"least", std::min(low, high)},
                                 {"most", std::max(low, high)}});
    return verdict(e, places, language) + " " + apart;
}

} // namespace wavechroma::words
