#include "core/formats/names.h"

#include "core/base/letters.h"
#include "core/base/number_text.h"
#include "core/base/shown_text.h"

#include <algorithm>
#include <cctype>
#include <cmath>
#include <cstdint>
#include <filesystem>
#include <fmt/format.h>
#include <map>

namespace wavechroma {

std::string composedName(const Calibration &c, const std::string &setup, const TellApart &also)
{
    std::string name;
    const auto add = [&](const std::string &part) {
        if (!part.empty())
            name += (name.empty() ? "" : ", ") + part;
    };
    add(c.camera.model.empty() ? c.camera.make : c.camera.model);
    if (also.serial && !c.camera.serial.empty())
        add("no. " + c.camera.serial);
    std::string lens = c.camera.lens;
    if (!c.camera.make.empty() && lens.rfind(c.camera.make + " ", 0) == 0)
        lens.erase(0, c.camera.make.size() + 1);
    add(lens);
    add(setup);
    add(c.light.name == "unknown" ? "" : c.light.name);
    if (also.iso && c.camera.iso > 0)
        add("ISO " + std::to_string(int(std::lround(c.camera.iso))));
    add(c.camera.capturedAt.substr(0, 10));
    if (c.patches.empty() && name.empty())
        return "Calibration";
    add(c.parts.colour == "auto" ? "" : c.parts.colour);
    if (c.parts.tone != "auto" && c.parts.tone != "as-shot")
        add(c.parts.tone);
    if (c.lean.reds != 0)
        add("reds " + std::to_string(c.lean.reds));
    if (c.lean.chroma != 0)
        add("chroma " + std::to_string(c.lean.chroma));
    if (c.lean.contrast != 0)
        add("contrast " + std::to_string(c.lean.contrast));
    if (c.lean.hasSectors())
        add("sectors");
    if (const auto match = std::filesystem::path(c.asked.reference).stem().stem().string(); !match.empty())
        add("to " + match);
    return name.empty() ? "Calibration" : name;
}

std::string provenanceOf(const Calibration &c)
{
    std::string out = "colour " + c.parts.colour + ", tone " + c.parts.tone;
    if (!(c.lean == ColourLean{}))
        out += ", reds " + std::to_string(c.lean.reds) + ", chroma " + std::to_string(c.lean.chroma) +
               ", contrast " + std::to_string(c.lean.contrast) + (c.lean.hasSectors() ? ", sectors" : "");
    for (size_t i = 0; i < c.madeFrom.size(); ++i) {
        out += (i == 0 ? " from " : ", ") + c.madeFrom[i].image;
        if (!c.madeFrom[i].sha256.empty())
            out += " (SHA-256 " + c.madeFrom[i].sha256 + ")";
    }
    return out + ", " + std::to_string(c.patches.size()) + " patches, by " +
           (c.madeWith.empty() ? "Wavechroma" : c.madeWith);
}

/// The letters that have plain forms.
static const std::map<std::string, const char *, std::less<>> &plainForms()
{
    static const std::map<std::string, const char *, std::less<>> known = [] {
        std::map<std::string, const char *, std::less<>> all{
            {"ä", "ae"},     {"ö", "oe"}, {"ü", "ue"},     {"Ä", "Ae"},     {"Ö", "Oe"},    {"Ü", "Ue"},
            {"ß", "ss"},     {"æ", "ae"}, {"Æ", "Ae"},     {"ø", "oe"},     {"Ø", "Oe"},    {"å", "aa"},
            {"Å", "Aa"},     {"ł", "l"},  {"Ł", "L"},      {"đ", "d"},      {"Đ", "D"},     {"þ", "th"},
            {"ð", "d"},      {"–", "-"},  {"—", "-"},      {"−", "-"},      {"‘", "'"},     {"’", "'"},
            {"“", "\""},     {"”", "\""}, {"„", "\""},     {"…", "..."},    {"×", "x"},     {"°", " deg"},
            {"Δ", "Delta "}, {"±", "+-"}, {"\u00A0", " "}, {"\u2009", " "}, {"\u202F", " "}};
        const std::pair<const char *, const char *> marked[] = {
            {"a", "àáâãāă"},   {"A", "ÀÁÂÃĀĂ"},  {"c", "çćč"},    {"C", "ÇĆČ"},    {"e", "èéêëēėęě"},
            {"E", "ÈÉÊËĒĖĘĚ"}, {"g", "ğģ"},      {"G", "ĞĢ"},     {"i", "ìíîïīı"}, {"I", "ÌÍÎÏĪİ"},
            {"n", "ñńňņ"},     {"N", "ÑŃŇŅ"},    {"o", "òóôõōő"}, {"O", "ÒÓÔÕŌŐ"}, {"r", "řŕ"},
            {"R", "ŘŔ"},       {"s", "śšşș"},    {"S", "ŚŠŞȘ"},   {"t", "ťţț"},    {"T", "ŤŢȚ"},
            {"u", "ùúûūůűų"},  {"U", "ÙÚÛŪŮŰŲ"}, {"y", "ýÿ"},     {"Y", "ÝŸ"},     {"z", "źżž"},
            {"Z", "ŹŻŽ"},      {"d", "ď"},       {"D", "Ď"},      {"l", "ľļĺ"},    {"L", "ĽĻĹ"},
            {"k", "ķ"},        {"K", "Ķ"}};
        for (const auto &[plain, letters] : marked)
            for (std::string_view rest = letters; !rest.empty(); rest.remove_prefix(2)) // two bytes each
                all.emplace(rest.substr(0, 2), plain);
        return all;
    }();
    return known;
}

/// The character that begins there, by its first byte, as far as the text goes.
static std::string_view letterAt(std::string_view text, size_t at)
{
    const auto lead = uint8_t(text[at]);
    return text.substr(at, lead < 0xC0 ? 1 : lead < 0xE0 ? 2 : lead < 0xF0 ? 3 : 4);
}

std::string asciiOf(const std::string &text)
{
    std::string out;
    for (size_t i = 0; i < text.size();) {
        const auto letter = letterAt(text, i);
        const auto known = plainForms().find(letter);
        const bool isAscii = letter.size() == 1 && uint8_t(letter[0]) < 0x80;
        out += isAscii ? std::string(letter) : known == plainForms().end() ? "?" : known->second;
        i += letter.size();
    }
    return out;
}

/// One character of a name in the name of a file; "_" where it is none for that.
static std::string inFileName(std::string_view letter)
{
    const auto known = plainForms().find(letter);
    const std::string_view plain = known == plainForms().end() ? letter : known->second;
    if (uint8_t(plain[0]) >= 0x80) { // other scripts stay; what is no text keeps its bytes apart
        if (isOneLine(plain))
            return std::string(plain);
        std::string hex;
        for (const char byte : plain)
            hex += fmt::format("x{:02X}", uint8_t(byte));
        return hex;
    }
    std::string out;
    for (const char ch : plain)
        out += letters::isLetterOrDigit(ch) || ch == '.' || ch == '-' ? ch : '_';
    return out;
}

std::string fileNameOf(const std::string &name)
{
    constexpr size_t kMost = 120;
    std::string out;
    for (size_t i = 0; i < name.size();) {
        const auto letter = letterAt(name, i);
        const auto plain = inFileName(isUtf8(letter) ? letter : letter.substr(0, 1));
        i += isUtf8(letter) ? letter.size() : 1;
        if (out.size() + plain.size() > kMost)
            break;
        for (const char ch : plain)
            if (ch != '_' || (!out.empty() && out.back() != '_'))
                out += ch;
    }
    while (!out.empty() && (out.back() == '_' || out.back() == '.'))
        out.pop_back();
    const bool says = std::any_of(out.begin(), out.end(), [](unsigned char ch) {
        return letters::isLetterOrDigit(char(ch)) || ch >= 0x80;
    });
    return !says ? "calibration" : out.front() == '.' ? "calibration" + out : out;
}

} // namespace wavechroma
