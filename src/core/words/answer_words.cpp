#include "core/words/answer_words.h"

#include "core/base/filled.h"
#include "core/words/check_words.h"
#include "core/words/frame_words.h"

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
        return filled("Not asked", {}, language);
    case Why::WithinLimits:
        return filled("Good, ΔE {mean:1}", places, language);
    case Why::OverLimits:
        return filled("Look again, ΔE {mean:1}", places, language);
    case Why::Stopped:
        return filled("Shoot again", {}, language);
    case Why::NoCalibration:
        return filled("No calibration", {}, language);
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
                                   : filled("{n} {n|frame waits|frames wait} for a chart",
                                            {{"n", double(answer.waiting)}}, language);
    case Why::Stopped:
        return answer.stop ? message(*answer.stop, language) : std::string();
    case Why::NoCalibration:
        return filled("too few patches can be used", {}, language);
    case Why::LightMoved:
        return filled("{change} since {time}",
                      {{"change", answer.change ? lightChange(*answer.change, language) : ""},
                       {"time", clock(answer.since)}},
                      language);
    case Why::WithinLimits:
    case Why::OverLimits:
        break;
    }
    const auto worst =
        filled("worst {patch} {worst:1}", {{"patch", answer.patch}, {"worst", answer.worst}}, language);
    if (answer.bestOf == 0)
        return worst;
    return filled("{worst}, best of {n}", {{"worst", worst}, {"n", double(answer.bestOf)}}, language);
}

std::string doubt(const Doubt &d, const Language &language)
{
    constexpr std::pair<const char *, const char *> kDoubts[] = {
        {"chart-after", "Its chart was shot after it, at {at}."},
        {"other-iso", "Shot at ISO {frame}, its chart at ISO {chart}."},
        {"other-aperture", "Shot at f/{frame:1}, its chart at f/{chart:1}."},
        {"light-moved", "By the chart at {at} the light was {change}."},
        {"poor-chart", "Its chart's own answer is not good."},
    };
    const Places places{{"at", clock(d.at)},
                        {"frame", d.frame},
                        {"chart", d.chart},
                        {"change", d.change ? lightChange(*d.change, language) : ""}};
    for (const auto &[code, text] : kDoubts)
        if (d.code == code)
            return filled(text, places, language);
    return d.code;
}

std::string serving(const Serving &serving, const Language &language)
{
    if (!serving.chart)
        return filled(serving.without == Serving::Without::ChartOfThisPair
                          ? "No chart for this camera and lens under this light."
                          : "No chart under this light yet.",
                      {}, language);
    std::vector<std::string> all;
    for (const auto &d : serving.doubts)
        all.push_back(doubt(d, language));
    return joined(all);
}

CallOut callOut(const Answer &answer, const std::vector<Check> &checks, const Language &language)
{
    CallOut out;
    std::vector<std::string> reasons;
    for (const auto severity : {Severity::Stop, Severity::Warn})
        for (const auto &check : checks) {
            if (check.severity != severity)
                continue;
            const auto isSo = finding(check, language), toDo = advice(check, language);
            if (severity != Severity::Stop || !out.headline.empty()) {
                reasons.push_back(message(check, language));
                continue;
            }
            // What to do is for across the room; what is wrong is the reason. Glare has to say where first.
            const bool saysWhereFirst = check.id == "glare" || toDo.empty();
            out.headline = saysWhereFirst ? isSo : toDo;
            reasons.push_back(saysWhereFirst ? toDo : isSo);
        }
    if (out.headline.empty()) {
        out.good = answer.state == Answer::State::Good;
        out.headline = out.good ? filled("Good. ΔE {mean:1}", {{"mean", answer.mean}}, language)
                                : filled("{headline}.", {{"headline", headline(answer, language)}}, language);
        const bool isProved = !answer.patch.empty();
        reasons.insert(reasons.begin(),
                       isProved ? filled("Worst {patch} {worst:1}.",
                                         {{"patch", answer.patch}, {"worst", answer.worst}}, language)
                                : reason(answer, language));
        for (const auto &check : checks)
            if (check.id == "evenness" && check.severity == Severity::Ok)
                reasons.push_back(message(check, language));
    }
    out.reason = joined(reasons);
    return out;
}

} // namespace wavechroma::words
