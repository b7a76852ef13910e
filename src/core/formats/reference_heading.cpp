#include "core/formats/reference_heading.h"

#include "core/base/letters.h"

#include <initializer_list>
#include <optional>
#include <sstream>
#include <vector>

namespace wavechroma {

namespace {

using Words = std::vector<std::string>;

/// In capitals; a word is letters, digits and underscores.
Words wordsIn(const std::string &text)
{
    Words out(1);
    for (const char c : text)
        if (letters::isLetter(c) || letters::isDigit(c) || c == '_')
            out.back() += letters::upper(c);
        else if (!out.back().empty())
            out.emplace_back();
    if (out.back().empty())
        out.pop_back();
    return out;
}

bool isOneOf(const std::string &word, std::initializer_list<const char *> all)
{
    return std::find(all.begin(), all.end(), word) != all.end();
}

bool isLight(const std::string &word)
{
    const bool isF = word.size() >= 2 && word.size() <= 3 && word[0] == 'F' && letters::isDigit(word[1]);
    return isF || isOneOf(word, {"A", "C", "E", "D50", "D55", "D65", "D75"});
}

/// 0: no observer.
int degreesIn(const std::string &word)
{
    return isOneOf(word, {"10", "10DEG", "1964"}) ? 10 : isOneOf(word, {"2", "2DEG", "1931"}) ? 2 : 0;
}

/// The words of the value, where the line is a keyword for light or observer. A key before ':' or '=' may
/// have several words ("Reference illuminant and observer: D65, 2°").
std::optional<Words> valueOf(const std::string &line)
{
    const auto names = [](const std::string &word) {
        return isOneOf(word,
                       {"ILLUMINANT", "OBSERVER", "ILLUMINANT_NAME", "ILLUMINATION_NAME", "OBSERVER_ANGLE"});
    };
    const auto separator = line.find_first_of(":=");
    if (separator != line.npos) {
        const auto key = wordsIn(line.substr(0, separator));
        const bool isKey = std::all_of(key.begin(), key.end(), [&](const std::string &word) {
            return names(word) ||
                   isOneOf(word, {"REFERENCE", "STANDARD", "CIE", "COLORIMETRIC", "AND", "NAME"});
        });
        if (isKey && std::any_of(key.begin(), key.end(), names))
            return wordsIn(line.substr(separator + 1));
    }
    const auto all = wordsIn(line);
    if (all.empty() || !(names(all[0]) || all[0] == "WEIGHTING_FUNCTION"))
        return std::nullopt;
    return Words(all.begin() + 1, all.end());
}

/// False where a word of the value is not understood, or speaks of two lights or observers.
bool take(const Words &value, ReferenceHeading &out)
{
    ReferenceHeading here;
    for (const auto &word : value) {
        if (isOneOf(word, {"ILLUMINANT", "OBSERVER", "CIE", "STANDARD", "DEG", "DEGREE", "DEGREES", "AND",
                           "ILLUMINANT_NAME", "OBSERVER_ANGLE"}))
            continue;
        if (isLight(word) && (here.illuminant.empty() || here.illuminant == word))
            here.illuminant = word;
        else if (const int degrees = degreesIn(word);
                 degrees > 0 && (here.observerDegrees == 0 || here.observerDegrees == degrees))
            here.observerDegrees = degrees;
        else
            return false;
    }
    const auto agrees = [](const auto &a, const auto &b, const auto &none) {
        return a == none || b == none || a == b;
    };
    if (!agrees(here.illuminant, out.illuminant, std::string()) ||
        !agrees(here.observerDegrees, out.observerDegrees, 0))
        return false;
    if (!here.illuminant.empty())
        out.illuminant = here.illuminant;
    if (here.observerDegrees != 0)
        out.observerDegrees = here.observerDegrees;
    return true;
}

} // namespace

Result<ReferenceHeading> headingOf(const std::string &text, bool isCgats, const std::string &name)
{
    ReferenceHeading out;
    std::istringstream in(text);
    int number = 0;
    for (std::string line; std::getline(in, line) && !(isCgats && letters::upper(line) == "BEGIN_DATA");) {
        ++number;
        const auto from = line.find_first_not_of(" \t");
        const bool isComment = from != line.npos && line[from] == '#';
        if (from == line.npos || (!isCgats && !isComment))
            continue;
        const auto value = valueOf(line.substr(from));
        if (!value || value->empty() || take(*value, out))
            continue;
        return unusable("{file}, line {line}: its illuminant or observer is not understood, or contradicts "
                        "another line: \"{text}\". Write \"Illuminant: D65\", or remove the line",
                        {{"file", name}, {"line", double(number)}, {"text", line.substr(0, 100)}});
    }
    return out;
}

} // namespace wavechroma
