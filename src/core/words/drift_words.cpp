#include "core/words/drift_words.h"

#include "core/base/filled.h"
#include "core/base/said.h"
#include "core/words/check_words.h"

#include <cmath>

namespace wavechroma::words {

std::string driftCause(const DriftReason &cause, const Language &language)
{
    const bool isMore = cause.amount > 0;
    const Places places{{"amount", std::abs(cause.amount)},
                        {"signed", cause.amount},
                        {"side", side(cause.side, language)},
                        {"patches", listed(cause.patches, language)},
                        {"n", double(cause.patches.size())}};
    switch (cause.cause) {
    case DriftCause::Power:
        return filled(isMore ? said("The light is {amount:2} stops stronger.")
                             : said("The light is {amount:2} stops weaker."),
                      places, language);
    case DriftCause::Temperature:
        return filled(isMore ? said("The light is {amount:0} mired warmer.")
                             : said("The light is {amount:0} mired cooler."),
                      places, language);
    case DriftCause::Tint:
        return filled(isMore ? said("The light is greener, Duv {signed:+4}.")
                             : said("The light is pinker, Duv {signed:+4}."),
                      places, language);
    case DriftCause::OneSide:
        return filled(cause.side == Side::None
                          ? said("One side of the chart became {amount:0} % darker than the other.")
                          : said("The {side} became {amount:0} % darker than the other side."),
                      places, language);
    case DriftCause::StrayLight:
        return filled(isMore ? said("Stray light lies over the picture, {amount:1} % of white.")
                             : said("There is less stray light than before, by {amount:1} % of white."),
                      places, language);
    case DriftCause::Spectrum:
        return filled("The lamp is of another kind: its spectrum moves colours by ΔE {amount:1} on average, "
                      "greys stay.",
                      places, language);
    case DriftCause::Chart:
        return filled("The chart itself changed while its greys kept: {patches} {n|is|are} ΔE {amount:1} "
                      "off, faded or soiled.",
                      places, language);
    }
    return {};
}

std::string driftAdvice(DriftAdvice advice, const Language &language)
{
    constexpr const char *kSentences[] = {
        "", said("Set the exposure or the lamp's power back."),
        said("Shoot the chart again and calibrate by it."),
        said("Look at the set: a lamp that was moved, or light that shines into the lens."),
        said("Clean the chart, or take a new one.")};
    return filled(kSentences[size_t(advice)], {}, language);
}

std::string driftDue(const std::string &on, int framesLeft, bool isFailed, const Language &language)
{
    const Places places{{"on", on}, {"n", double(framesLeft)}};
    if (isFailed)
        return filled("A new chart is due now: the newest look at it fails.", places, language);
    if (framesLeft <= 0)
        return filled("A new chart is due now: too many product frames since the last one.", places,
                      language);
    return filled(on.empty()
                      ? said("A new chart is due after {n:0} more product {n|frame|frames}.")
                      : said("A new chart is due on {on}, or after {n:0} more product {n|frame|frames}."),
                  places, language);
}

std::string drift(const DriftCheck &check, const Language &language)
{
    std::vector<std::string> out;
    out.push_back(filled(check.passes ? said("Pass, ΔE {mean:1} (ΔE {was:1} when it was calibrated).")
                                      : said("Fail, ΔE {mean:1} (ΔE {was:1} when it was calibrated)."),
                         {{"mean", check.mean}, {"was", check.was}}, language));
    if (check.causes.empty())
        out.push_back(filled(check.passes ? said("Nothing changed that is worth a word.")
                                          : said("Nothing changed: the calibration failed then, too."),
                             {}, language));
    for (const auto &cause : check.causes)
        out.push_back(driftCause(cause, language));
    out.push_back(driftAdvice(check.advice, language));
    std::erase(out, "");
    return joined(out);
}

} // namespace wavechroma::words
