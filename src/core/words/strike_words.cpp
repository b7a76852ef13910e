#include "core/words/strike_words.h"

#include "core/base/filled.h"
#include "core/base/said.h"
#include "core/words/answer_words.h"
#include "core/words/frame_words.h"

namespace wavechroma::words {

namespace {

std::string chartDetail(const StrikeItem &item, const Language &language)
{
    const Places places{{"pair", item.pair},
                        {"mean", item.answer.mean},
                        {"first", item.times.empty() ? "" : clock(item.times.front())},
                        {"last", item.times.empty() ? "" : clock(item.times.back())},
                        {"answer", headline(item.answer, language)}};
    if (item.answer.why == Answer::Why::WhiteAlone)
        return filled("{pair}: only a grey. Shoot a chart, so that colours can be proved.", places, language);
    if (item.answer.state == Answer::State::None)
        return item.pair.empty() ? filled("No frame yet. Shoot the chart.", places, language)
                                 : filled("{pair}: shoot the chart now.", places, language);
    if (item.isMissing)
        return filled("{pair}: {answer}. Shoot the chart again.", places, language);
    if (item.answer.state == Answer::State::LookAgain && item.answer.why != Answer::Why::LightMoved)
        return filled("{pair}: {answer}.", places, language);
    return filled(item.times.size() > 1 ? said("{pair}: ΔE {mean:1} unseen, at {first} and again at {last}.")
                                        : said("{pair}: ΔE {mean:1} unseen, at {first}."),
                  places, language);
}

std::string lightDetail(const StrikeItem &item, const Language &language)
{
    const Places places{{"pair", item.pair},
                        {"change", item.change ? lightChange(*item.change, language) : ""},
                        {"from", clock(item.times.front())},
                        {"to", clock(item.times.back())}};
    return filled(item.isMissing
                      ? said("{pair}: {change} between {from} and {to}. Shoot the chart once more now.")
                      : said("{pair}: {change} between {from} and {to}; there is a chart on both sides."),
                  places, language);
}

std::string productsDetail(const StrikeItem &item, const Language &language)
{
    const Places places{{"all", double(item.of)},
                        {"none", double(item.unserved)},
                        {"doubted", double(item.of - item.count - item.unserved)},
                        {"names", listed(item.names, language)}};
    if (!item.isMissing)
        return filled("{all:0}, each with a calibration that nothing speaks against.", places, language);
    std::vector<std::string> out;
    if (item.unserved > 0)
        out.push_back(filled("{none:0} without a calibration.", places, language));
    if (item.of - item.count > item.unserved) {
        std::vector<std::string> doubts;
        for (const auto &doubt : item.doubts)
            doubts.push_back(doubtInBrief(doubt, language));
        out.push_back(filled(
            "{doubted:0} in doubt: {doubts}.",
            {{"doubted", double(item.of - item.count - item.unserved)}, {"doubts", joined(doubts, ", ")}},
            language));
    }
    out.push_back(filled("{names}.", places, language));
    return joined(out);
}

std::string targetsDetail(const StrikeItem &item, const Language &language)
{
    const Places places{{"count", double(item.count)},
                        {"all", double(item.of)},
                        {"names", listed(item.names, language)},
                        {"over", double(item.over.size())}};
    std::vector<std::string> out{filled("{count:0} of {all:0} seen under this light.", places, language)};
    if (!item.names.empty())
        out.push_back(filled("Not yet: {names}.", places, language));
    std::vector<std::string> over;
    for (const auto &probe : item.over)
        over.push_back(
            filled("{name} ΔE {de:1}", {{"name", probe.place.name}, {"de", probe.de00}}, language));
    if (!over.empty())
        out.push_back(filled("Over {n|its limit|their limits}: {names}.",
                             {{"n", double(over.size())}, {"names", listed(over, language)}}, language));
    if (item.unjudged > 0)
        out.push_back(filled("{n:0} {n|has|have} no colour to hold to a limit.",
                             {{"n", double(item.unjudged)}}, language));
    if (item.isAwaited)
        out.push_back(filled("Whether within their limits is being looked at.", {}, language));
    else if (item.count > 0 && over.empty() && item.unjudged == 0)
        out.push_back(filled("All of these are within their limits.", {}, language));
    return joined(out);
}

} // namespace

std::string strikeAnswer(const StrikeCard &card, const Language &language)
{
    const double missing = card.missing();
    if (missing > 0)
        return filled("{n:0} {n|thing is|things are} still missing.", {{"n", missing}}, language);
    return card.isAwaited()
               ? filled("Nothing is missing so far; the files are being looked at.", {}, language)
               : filled("Nothing is missing: turn the lamps off.", {}, language);
}

std::string strikeTitle(const StrikeItem &item, const Language &language)
{
    struct Titles
    {
        const char *fine, *missing;
    };
    constexpr Titles kTitles[] = {{said("Chart"), said("No good chart")},
                                  {said("The light moved"), said("The light moved")},
                                  {said("Product frames"), said("Product frames")},
                                  {said("Flat"), said("No flat")},
                                  {said("Colours with a target"), said("Colours with a target")},
                                  {said("Files"), said("Files")}};
    const auto &titles = kTitles[size_t(item.id)];
    return filled(item.isMissing ? titles.missing : titles.fine, {}, language);
}

std::string strikeDetail(const StrikeItem &item, const Language &language)
{
    const Places places{{"pair", item.pair},
                        {"count", double(item.count)},
                        {"all", double(item.of)},
                        {"names", listed(item.names, language)},
                        {"at", item.times.empty() ? "" : clock(item.times.back())}};
    switch (item.id) {
    case StrikeItem::Id::Chart:
        return chartDetail(item, language);
    case StrikeItem::Id::Light:
        return lightDetail(item, language);
    case StrikeItem::Id::Products:
        return productsDetail(item, language);
    case StrikeItem::Id::Flat:
        return filled(item.isMissing ? said("{pair}: shoot an even board over the whole frame, a stop under.")
                                     : said("{pair}: at {at}."),
                      places, language);
    case StrikeItem::Id::Targets:
        return targetsDetail(item, language);
    case StrikeItem::Id::Files:
        if (item.isAwaited)
            return filled("{all:0}, being looked at.", places, language);
        return filled(item.isMissing ? said("{count:0} of {all:0} are whole. Gone or spoilt: {names}.")
                                     : said("{count:0} of {all:0} are whole."),
                      places, language);
    }
    return {};
}

} // namespace wavechroma::words
