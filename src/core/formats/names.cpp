#include "core/formats/names.h"

#include "core/base/number_text.h"

#include <cctype>
#include <cmath>
#include <filesystem>
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
    if (const auto match = std::filesystem::path(c.asked.reference).stem().stem().string(); !match.empty())
        add("to " + match);
    return name.empty() ? "Calibration" : name;
}

std::string provenanceOf(const Calibration &c)
{
    std::string out = "colour " + c.parts.colour + ", tone " + c.parts.tone;
    if (!(c.lean == ColourLean{}))
        out += ", reds " + std::to_string(c.lean.reds) + ", chroma " + std::to_string(c.lean.chroma);
    for (size_t i = 0; i < c.madeFrom.size(); ++i) {
        out += (i == 0 ? " from " : ", ") + c.madeFrom[i].image;
        if (!c.madeFrom[i].sha256.empty())
            out += " (SHA-256 " + c.madeFrom[i].sha256 + ")";
    }
    return out + ", " + std::to_string(c.patches.size()) + " patches, by " +
           (c.madeWith.empty() ? "Wavechroma" : c.madeWith);
}

std::string asciiOf(const std::string &text)
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
    std::string out;
    for (size_t i = 0; i < text.size();) {
        const auto lead = uint8_t(text[i]);
        const size_t length = lead < 0x80 ? 1 : lead < 0xE0 ? 2 : lead < 0xF0 ? 3 : 4;
        const auto letter = std::string_view(text).substr(i, length);
        const auto at = known.find(letter);
        out += length == 1 ? std::string(letter) : at == known.end() ? "?" : at->second;
        i += length;
    }
    return out;
}

std::string fileNameOf(const std::string &name)
{
    std::string out;
    for (const char ch : asciiOf(name)) {
        const bool plain = std::isalnum(static_cast<unsigned char>(ch)) || ch == '.' || ch == '-';
        if (plain)
            out.push_back(ch);
        else if (!out.empty() && out.back() != '_')
            out.push_back('_');
    }
    out.resize(std::min<size_t>(out.size(), 120));
    while (!out.empty() && (out.back() == '_' || out.back() == '.'))
        out.pop_back();
    const bool says = std::any_of(out.begin(), out.end(), [](unsigned char ch) { return std::isalnum(ch); });
    return !says ? "calibration" : out.front() == '.' ? "calibration" + out : out;
}

} // namespace wavechroma
