#include "core/words/fit_words.h"

#include "core/base/filled.h"
#include "core/base/said.h"

#include <cmath>

namespace wavechroma::words {

namespace {

struct PartWords
{
    const char *part, *adds, *name;
};

/// What is shown of a part that has no row here is its name.
constexpr PartWords kParts[] = {
    {"balance", words::said("the file's own colours"), "balance"},
    {"matrix", "3 × 3", "matrix"},
    {"roots", words::said("3 × 3 and square roots"), "roots"},
    {"field", words::said("3 × 3 and a smooth field"), "field"},
    {"as-shot", words::said("contrast as shot"), words::said("tone as shot")},
    {"greys", words::said("one curve through the greys"), words::said("tone by the greys")},
    {"channels", words::said("a curve for each channel"), words::said("tone by channel")},
};

const PartWords *wordsOf(const std::string &part)
{
    for (const auto &row : kParts)
        if (part == row.part)
            return &row;
    return nullptr;
}

constexpr std::pair<const char *, const char *> kDoubts[] = {
    {"flare", words::said("there was flare")},
    {"evenness", words::said("the light was uneven")},
    {"shadow", words::said("a shadow lay across the chart")},
    {"glare", words::said("there was glare")},
    {"obstruction", words::said("patches were hidden")},
    {"match", words::said("the colours hardly fit the chart")},
    {"clipping", words::said("patches were clipped")},
    {"underexposure", words::said("patches were too dark")},
    {"taken-flare", words::said("flare of {flare:%1} had to be removed")},
    {"taken-patches", words::said("faulty patches had to be left out")},
};

std::string doubt(const Recommendation &choice, const Language &language)
{
    for (const auto &[code, text] : kDoubts)
        if (choice.doubt == code)
            return filled(text, {{"flare", choice.flare}}, language);
    return choice.doubt;
}

std::string leanSteps(int steps, const char *below, const char *above, const Language &language)
{
    if (steps == 0)
        return filled("exact", {}, language);
    return filled(steps < 0 ? below : above, {{"n", double(std::abs(steps))}}, language);
}

} // namespace

std::string parts(const Parts &p, const Language &language)
{
    const auto *row = wordsOf(p.colour);
    const auto name = row ? filled(row->name, {}, language) : p.colour;
    if (p.tone == kToneAsShot)
        return name;
    return filled("{colour}, {tone}", {{"colour", name}, {"tone", tone(p.tone, language)}}, language);
}

std::string adds(const std::string &part, const Language &language)
{
    const auto *row = wordsOf(part);
    return row ? filled(row->adds, {}, language) : std::string();
}

std::string tone(const std::string &part, const Language &language)
{
    const auto *row = wordsOf(part);
    return row ? filled(row->name, {}, language) : part;
}

std::string recommendation(const Recommendation &choice, const Language &language)
{
    using Why = Recommendation::Why;
    const double less = choice.rivalUnseen > 0 ? 1 - choice.unseen / choice.rivalUnseen : 0;
    const Places places{{"best", parts(choice.parts, language)},
                        {"rival", parts(choice.rival, language)},
                        {"unseen", choice.unseen},
                        {"rivalUnseen", choice.rivalUnseen},
                        {"less", std::abs(less)},
                        {"doubt", doubt(choice, language)}};
    switch (choice.why) {
    case Why::HeldBack:
        return filled("Recommended: {best}, because {doubt} and a freer fit would follow that fault.", places,
                      language);
    case Why::ClearlyBetter:
        return filled(
            "Recommended: {best}. Error on unseen patches ΔE {unseen:2}, {less:%} less than {rival}.", places,
            language);
    case Why::Credit:
        return filled(less >= 0 ? "Recommended: {best}. Error on unseen patches ΔE {unseen:2} ({rival}: "
                                  "{rivalUnseen:2})."
                                : "Recommended: {best}. Error on unseen patches ΔE {unseen:2} ({rival}: "
                                  "{rivalUnseen:2}, but {best} is better between the chart's colours).",
                      places, language);
    case Why::NothingRicherIsBetter:
        break;
    }
    return filled("Recommended: {best}. Error on unseen patches ΔE {unseen:2}. No freer fit is 4 % better.",
                  places, language);
}

std::string takenOut(const TakenOut &t, double lightRange, const Language &language)
{
    const Places places{{"flare", t.flare}, {"range", lightRange}, {"patches", joined(t.patches, ", ")}};
    std::vector<std::string> things;
    if (t.flare != 0)
        things.push_back(filled("a veil of {flare:%1}", places, language));
    if (lightRange > 0)
        things.push_back(filled("light that varies by {range:%}", places, language));
    const auto taken = things.empty() ? std::string()
                                      : filled("Removed from the reading: {things}.",
                                               {{"things", joined(things, ", ")}}, language);
    return joined({taken, t.patches.empty() ? "" : filled("Left out: {patches}.", places, language)});
}

std::string warning(const FitWarning &w, const Language &language)
{
    const Places places{
        {"patches", joined(w.patches, ", ")}, {"n", double(w.patches.size())}, {"value", w.value}};
    if (w.code == "reference-holds-highlights")
        return filled("The reference separates {patches} from white, but this camera clipped {n|it|them}: "
                      "expose less to match the highlights.",
                      places, language);
    if (w.code == "reference-spreads-shadows")
        return filled("The reference spreads the shadows {value:1} times as much as this camera, and "
                      "{patches} is near the noise there: the match will amplify grain.",
                      places, language);
    return w.code;
}

std::string reds(int steps, const Language &language)
{
    return leanSteps(steps, words::said("{n} {n|step|steps} calmer"),
                     words::said("{n} {n|step|steps} richer"), language);
}

std::string chroma(int steps, const Language &language)
{
    return leanSteps(steps, words::said("{n} {n|step|steps} quieter"),
                     words::said("{n} {n|step|steps} livelier"), language);
}

std::string contrast(int steps, const Language &language)
{
    return leanSteps(steps, words::said("{n} {n|step|steps} softer"),
                     words::said("{n} {n|step|steps} harder"), language);
}

std::string thing(const ThingJudged &judged, const Language &language)
{
    const double bought = judged.bought.value_or(0);
    const Places places{{"name", judged.name}, {"unseen", judged.unseen}, {"bought", std::abs(bought)}};
    const auto own = filled("{name}: ΔE {unseen:2} by a fit without it.", places, language);
    if (!judged.bought)
        return own;
    return joined(
        {own, bought >= 0
                  ? filled("The other things are {bought:2} nearer because of it.", places, language)
                  : filled("The other things are {bought:2} farther off because of it.", places, language)});
}

} // namespace wavechroma::words
