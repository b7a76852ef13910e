#include "core/words/agreement_words.h"

#include "core/base/filled.h"
#include "core/base/said.h"

#include <algorithm>

namespace wavechroma::words {

std::string drawnTogether(const DrawnFigures &drawn, const Language &language)
{
    if (drawn.weight == 0)
        return filled("Drawing them together would gain nothing that each station's own truth allows.", {},
                      language);
    double most = 0;
    std::string who;
    for (const auto &[station, figure] : drawn.stations)
        if (const double share = figure.before > 0 ? figure.after / figure.before - 1 : 0;
            share > most || who.empty()) {
            most = share;
            who = station;
        }
    return filled("Drawn together they are ΔE {after:2} apart on what was left out (ΔE {before:2} before); "
                  "{station} gives "
                  "up most of its own truth, {share:%1}.",
                  {{"after", drawn.spread.after},
                   {"before", drawn.spread.before},
                   {"station", who},
                   {"share", std::max(0.0, most)}},
                  language);
}

std::string stays(const StationAgreement &a, const Language &language)
{
    constexpr double kVisible = 1, kMostOfIt = 0.5;
    if (!a.worst || !a.drawn || a.drawn->worstStays < std::max(kVisible, kMostOfIt * a.worst->de00))
        return {};
    return filled(
        "{id} would stay at least ΔE {stays:1} apart if agreement were all: these cameras and lights see it "
        "differently, and no calibration of these parts mends that.",
        {{"id", a.worst->id}, {"stays", a.drawn->worstStays}}, language);
}

std::string agreement(const StationAgreement &a, const Language &language)
{
    std::vector<std::string> out;
    if (!a.patches.empty())
        out.push_back(filled(
            "Patches are ΔE {now:2} apart from station to station (ΔE {plain:2} by white balance alone).",
            {{"now", a.patchesMean.now}, {"plain", a.patchesMean.plain}}, language));
    if (!a.objects.empty())
        out.push_back(filled(
            "Objects, which no fit has seen, are ΔE {now:2} apart (ΔE {plain:2} by white balance alone).",
            {{"now", a.objectsMean.now}, {"plain", a.objectsMean.plain}}, language));
    else
        out.push_back(
            filled("No object has a probe at several stations: patches alone flatter.", {}, language));
    if (a.worst)
        out.push_back(filled(
            a.worst->mend == "doubted-frame"
                ? said("{id} is furthest apart, ΔE {de:1} between {first} and {second}. The calibration "
                       "of {at} is in doubt: shoot a chart under its light.")
            : a.worst->mend == "shoot-again"
                ? said("{id} is furthest apart, ΔE {de:1} between {first} and {second}. Shoot the chart "
                       "again at {at}.")
                : said("{id} is furthest apart, ΔE {de:1} between {first} and {second}. Draw the "
                       "stations together."),
            {{"id", a.worst->id},
             {"de", a.worst->de00},
             {"first", a.worst->first},
             {"second", a.worst->second},
             {"at", a.worst->at}},
            language));
    if (a.drawn) {
        out.push_back(drawnTogether(*a.drawn, language));
        out.push_back(stays(a, language));
    }
    std::erase(out, "");
    return joined(out);
}

} // namespace wavechroma::words
