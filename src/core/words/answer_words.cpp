#include "core/words/answer_words.h"

#include "core/base/filled.h"
#include "core/base/said.h"
#include "core/words/check_words.h"
#include "core/words/frame_words.h"
#include "core/words/proof_words.h"

namespace wavechroma::words {

std::string clock(const std::string &isoTime)
{
    return isoTime.size() >= 16 ? isoTime.substr(11, 5) : isoTime;
}

std::string headline(const Answer &answer, const Language &language)
{
    using Why = Answer::Why;
    const Places places{{"mean", answer.mean}};
    switch (answer.why) {
    case Why::NotAsked:
        return filled("No question yet", {}, language);
    case Why::WithinLimits:
        return filled("Good, ΔE {mean:1}", places, language);
    case Why::OverLimits:
        return filled("Look again, ΔE {mean:1}", places, language);
    case Why::Stopped:
        return filled("Shoot again", {}, language);
    case Why::NoCalibration:
        return filled("No calibration", {}, language);
    case Why::WhiteAlone:
        return filled("White balance alone", {}, language);
    case Why::LightMoved:
        return filled("The light moved", {}, language);
    }
    return {};
}

std::string reason(const Answer &answer, const Language &language)
{
    using Why = Answer::Why;
    switch (answer.why) {
    case Why::NotAsked:
        return answer.waiting == 0 ? filled("no chart yet", {}, language)
                                   : filled("{n} {n|frame has|frames have} no chart",
                                            {{"n", double(answer.waiting)}}, language);
    case Why::Stopped:
        return answer.stop ? message(*answer.stop, language) : std::string();
    case Why::NoCalibration:
        return filled("too few patches can be used", {}, language);
    case Why::WhiteAlone:
        return filled("measured on a grey; no chart", {}, language);
    case Why::LightMoved:
        return filled("{change} since {time}",
                      {{"change", answer.change ? lightChange(*answer.change, language) : ""},
                       {"time", clock(answer.since)}},
                      language);
    case Why::WithinLimits:
    case Why::OverLimits:
        break;
    }
    const auto worst = answer.over ? held(*answer.over, language)
                                   : filled("unseen; worst {patch} {worst:1}",
                                            {{"patch", answer.patch}, {"worst", answer.worst}}, language);
    const auto best = answer.bestOf > 0 ? filled("{worst}, best of {n}",
                                                 {{"worst", worst}, {"n", double(answer.bestOf)}}, language)
                                        : worst;
    return answer.warning
               ? filled("{best}; {warning}",
                        {{"best", best}, {"warning", finding(*answer.warning, language)}}, language)
               : best;
}

std::string doubt(const Doubt &d, const Language &language)
{
    constexpr std::pair<const char *, const char *> kDoubts[] = {
        {"no-chart",
         words::said("A grey alone serves it: its white balance is measured, its colours are by the "
                     "file's own matrix.")},
        {"chart-after", words::said("Its chart was shot after it, at {at}.")},
        {"other-iso", words::said("Shot at ISO {frame}, its chart at ISO {chart}.")},
        {"other-aperture", words::said("Shot at f/{frame:1}, its chart at f/{chart:1}.")},
        {"light-moved", words::said("By the chart at {at} the light was {change}.")},
        {"other-light",
         words::said("What stands still in the picture says that the light was {change} than at its chart.")},
        {"auto-balance", words::said("The camera chose the white balance of each picture by itself.")},
        {"other-day",
         words::said("Its chart was shot {chart} {chart|day|days} before or after it. Is it still the "
                     "same light?")},
        {"old",
         words::said(
             "{chart} {chart|day|days} lie between it and its chart, more than the tolerances allow.")},
        {"poor-chart", words::said("Its chart is not good.")},
        {"lamp-unknown",
         words::said("Its exposure time differs from its chart's, and the kind of lamp is unknown. Under "
                     "a flash its level is wrong by that difference. Choose the setup's kind of lamp.")},
    };
    const Places places{{"at", clock(d.at)},
                        {"frame", d.frame},
                        {"chart", d.chart},
                        {"change", d.change ? lightChange(*d.change, language) : ""}};
    if (d.code == "other-light" && d.chart > 0) // of another colour
        return filled("What stands still in the picture says that the light was {change} than at its chart: "
                      "about {chart:K} ({frame:+0} mired).",
                      places, language);
    for (const auto &[code, text] : kDoubts)
        if (d.code == code)
            return filled(text, places, language);
    return d.code;
}

std::string doubtInBrief(const Doubt &doubt, const Language &language)
{
    const std::pair<const char *, const char *> known[] = {
        {"no-chart", words::said("grey alone, no chart")},
        {"chart-after", words::said("chart shot later")},
        {"other-iso", words::said("other ISO")},
        {"other-aperture", words::said("other aperture")},
        {"light-moved", words::said("the light moved")},
        {"other-light", words::said("other light")},
        {"auto-balance", words::said("automatic white balance")},
        {"other-day", words::said("chart of another day")},
        {"old", words::said("old chart")},
        {"poor-chart", words::said("poor chart")},
        {"lamp-unknown", words::said("unknown kind of lamp")}};
    for (const auto &[code, said] : known)
        if (doubt.code == code)
            return filled(said, {}, language);
    return doubt.code;
}

std::string lampKind(LampKind kind, const Language &language)
{
    constexpr const char *kKinds[] = {"Unknown",  "Strobe",   "LED",  words::said("Fluorescent tube"),
                                      "Tungsten", "Daylight", "Mixed"};
    return filled(kKinds[size_t(kind)], {}, language);
}

std::string servedFrom(Serving::From from, const Language &language)
{
    constexpr const char *kWords[] = {
        words::said("From the chart of its station."), words::said("From what says white in its station."),
        words::said("Fitted to look like another camera or picture; chosen by hand."),
        words::said("Joined of several lights: the frame's own white says where between them it lies; chosen "
                    "by hand."),
        words::said("Chosen by hand.")};
    return filled(kWords[size_t(from)], {}, language);
}

std::string serving(const Serving &serving, const Language &language)
{
    if (!serving.isServed())
        return filled(serving.without == Serving::Without::ChartOfThisPair
                          ? "No chart for this camera and lens under this light."
                          : "No chart under this light yet.",
                      {}, language);
    std::vector<std::string> all;
    for (const auto &d : serving.doubts)
        all.push_back(doubt(d, language));
    return joined(all);
}

std::string drift(const Serving &serving, const Language &language)
{
    if (!serving.drift)
        return {};
    const Places places{{"mired", serving.drift->mired}, {"stops", serving.drift->change.stops.value_or(0)}};
    return serving.drift->change.stops
               ? filled("By the set: {mired:+0} mired, {stops:+2} stops since its chart.", places, language)
               : filled("By the set: {mired:+0} mired since its chart.", places, language);
}

std::string leftOut(const std::string &code, const Language &language)
{
    const std::pair<const char *, const char *> known[] = {
        {"no-chart", words::said("No chart under its light.")},
        {"no-chart-of-this-pair", words::said("No chart for its camera and lens under its light.")},
        {"no-calibration", words::said("Its chart could not be fitted.")},
        {"missing", words::said("Its file was moved or removed.")},
        {"unreadable", words::said("A document of its chart in the job is damaged. Read the chart again.")},
        {"source-changed", words::said("Its file is not the one that was added to the job. Add it again.")},
        {"in-the-way",
         words::said("Another file has this name, or the delivered file was changed since. It is kept.")},
        {"too-many-lights",
         words::said("A DNG profile holds two or three lights; this camera and lens has more. Write a "
                     "profile for each.")},
        {"cannot-join",
         words::said("Its lights are too similar to be joined, or a chart shows no neutral. Write a profile "
                     "for each.")},
        {"other-camera", words::said("The form's white balance preset is of another camera.")},
        {"cannot-fit",
         words::said("The form asks for other parts, and what serves it cannot be fitted with them.")},
        {"not-raw", words::said("It is of finished pictures, and a DNG and its profile are of raw frames.")}};
    for (const auto &[name, said] : known)
        if (code == name)
            return filled(said, {}, language);
    return code;
}

CallOut callOut(const Answer &answer, const std::vector<Check> &checks, const Language &language)
{
    CallOut out;
    std::vector<std::string> reasons;
    const auto &main = answer.stop ? answer.stop : answer.warning;
    const bool isProved = !answer.patch.empty();
    if (main) { // what to do is for across the room; what is wrong is the reason
        out.headline = across(*main, language);
        reasons.push_back(finding(*main, language));
        if (isProved)
            reasons.push_back(
                filled("ΔE {mean:1} unseen, worst {patch} {worst:1}.",
                       {{"mean", answer.mean}, {"patch", answer.patch}, {"worst", answer.worst}}, language));
    } else {
        out.good = answer.state == Answer::State::Good;
        const Places mean{{"mean", answer.mean}};
        out.headline = answer.why == Answer::Why::WhiteAlone
                           ? filled("{headline}.", {{"headline", headline(answer, language)}}, language)
                       : out.good ? filled("Good. ΔE {mean:1} unseen", mean, language)
                       : answer.why == Answer::Why::LightMoved
                           ? filled("Check the lamps: the light moved.", {}, language)
                           : filled("{headline}.", {{"headline", headline(answer, language)}}, language);
        reasons.push_back(isProved && answer.why != Answer::Why::LightMoved
                              ? filled("Worst {patch} {worst:1}.",
                                       {{"patch", answer.patch}, {"worst", answer.worst}}, language)
                              : reason(answer, language));
    }
    for (const auto severity : {Severity::Stop, Severity::Warn})
        for (const auto &check : checks)
            if (check.severity == severity && !(main && check == *main))
                reasons.push_back(message(check, language));
    for (const auto &check : checks)
        if (!main && check.id == CheckId::Evenness && check.severity == Severity::Ok)
            reasons.push_back(message(check, language));
    out.reason = joined(reasons);
    return out;
}

} // namespace wavechroma::words
