#include "core/base/filled.h"

#include "core/base/number_text.h"
#include "core/base/result.h"

#include <algorithm>
#include <cmath>
#include <cstdlib>

namespace wavechroma::words {

namespace {

std::string withSign(std::string text, const Language &language)
{
    if (language.decimalSign != ".")
        if (const auto at = text.find('.'); at != text.npos)
            text.replace(at, 1, language.decimalSign);
    return text;
}

int decimalsIn(std::string_view digits)
{
    return digits.empty() ? 0 : std::atoi(std::string(digits).c_str());
}

std::string figure(double value, std::string_view format, const Language &language)
{
    if (format == "K")
        return kelvinText(value);
    if (format == "stops")
        return stops(value, language);
    if (format == "g")
        return withSign(shortestText(value), language);
    if (format.starts_with('%'))
        return withSign(percentText(value, decimalsIn(format.substr(1))), language);
    if (format.starts_with('+'))
        return withSign(signedText(value, decimalsIn(format.substr(1))), language);
    return withSign(fixedText(value, decimalsIn(format)), language);
}

const Value *valueOf(std::string_view name, const Places &places)
{
    for (const auto &[known, value] : places)
        if (known == name)
            return &value;
    return nullptr;
}

/// One of "one|many|…" by the count.
std::string pluralOf(std::string_view forms, double count, const Language &language)
{
    size_t wanted = language.pluralForm ? language.pluralForm(count) : count == 1 ? 0 : 1;
    for (;;) {
        const auto bar = forms.find('|');
        if (wanted == 0 || bar == forms.npos)
            return std::string(forms.substr(0, bar));
        forms.remove_prefix(bar + 1);
        --wanted;
    }
}

std::string place(std::string_view inside, const Places &places, const Language &language)
{
    const auto end = inside.find_first_of(":|");
    const auto *value = valueOf(inside.substr(0, end), places);
    const auto *number = value ? std::get_if<double>(value) : nullptr;
    if (!value || (!number && end != inside.npos))
        return "{" + std::string(inside) + "}";
    if (const auto *phrase = std::get_if<Phrase>(value))
        return filled(*phrase, language);
    if (!number)
        return std::get<std::string>(*value);
    if (end != inside.npos && inside[end] == '|')
        return pluralOf(inside.substr(end + 1), *number, language);
    return figure(*number, end == inside.npos ? "0" : inside.substr(end + 1), language);
}

} // namespace

std::string stops(double stops, const Language &language)
{
    const long thirds = std::lround(std::abs(stops) * 3), whole = thirds / 3;
    const Places places{{"whole", double(whole)}, {"fraction", thirds % 3 == 1 ? "1/3" : "2/3"}};
    if (thirds % 3 == 0)
        return filled("{whole} {whole|stop|stops}", places, language);
    return filled(whole == 0 ? "{fraction} stop" : "{whole} {fraction} stops", places, language);
}

const Language &plain()
{
    static const Language language;
    return language;
}

std::string filled(std::string_view templateText, const Places &places, const Language &language)
{
    std::string text = language.translated ? language.translated(templateText) : std::string();
    if (text.empty()) // not known in that language
        text = templateText;
    std::string out;
    std::string_view rest = text;
    for (;;) {
        const auto open = rest.find('{');
        const auto close = open == rest.npos ? rest.npos : rest.find('}', open);
        if (close == rest.npos)
            return out.append(rest);
        out.append(rest.substr(0, open));
        out += place(rest.substr(open + 1, close - open - 1), places, language);
        rest.remove_prefix(close + 1);
    }
}

std::string filled(const Phrase &phrase, const Language &language)
{
    return filled(phrase.text, phrase.places, language);
}

std::string listed(const std::vector<std::string> &ids, const Language &language)
{
    constexpr size_t kShown = 4;
    const std::vector<std::string> first(ids.begin(), ids.begin() + ptrdiff_t(std::min(kShown, ids.size())));
    const auto text = joined(first, ", ");
    if (ids.size() <= kShown)
        return text;
    return filled("{some} and {n} more", {{"some", text}, {"n", double(ids.size() - kShown)}}, language);
}

std::string joined(const std::vector<std::string> &sentences, const char *between)
{
    std::string out;
    for (const auto &sentence : sentences)
        if (!sentence.empty())
            out += (out.empty() ? "" : between) + sentence;
    return out;
}

} // namespace wavechroma::words

namespace wavechroma {

static Error errorOf(Fault fault, words::Phrase why)
{
    auto message = filled(why, words::plain());
    return {fault, std::move(message), std::move(why)};
}

Error unusable(words::Phrase why)
{
    return errorOf(Fault::Unusable, std::move(why));
}

Error internalError(words::Phrase why)
{
    return errorOf(Fault::Internal, std::move(why));
}

} // namespace wavechroma
