#include "core/base/shown_text.h"

#include <cstdint>
#include <fmt/format.h>

namespace wavechroma {

namespace {

struct Character
{
    size_t length = 1;
    bool isWellFormed = false;
    bool isText = false; ///< well-formed, and neither a control nor a mark of direction
};

bool isControl(uint32_t c)
{
    return c < 0x20 || (c >= 0x7F && c < 0xA0);
}

bool turnsDirection(uint32_t c)
{
    return c == 0x200E || c == 0x200F || (c >= 0x202A && c <= 0x202E) || (c >= 0x2066 && c <= 0x2069);
}

Character characterAt(std::string_view text, size_t at)
{
    const auto byte = [&](size_t i) { return uint32_t(uint8_t(text[i])); };
    const uint32_t first = byte(at);
    const size_t length = first < 0x80             ? 1
                          : (first & 0xE0) == 0xC0 ? 2
                          : (first & 0xF0) == 0xE0 ? 3
                          : (first & 0xF8) == 0xF0 ? 4
                                                   : 0;
    if (length == 0 || at + length > text.size())
        return {};
    uint32_t code = length == 1 ? first : first & (0x7FU >> length);
    for (size_t i = 1; i < length; ++i) {
        if ((byte(at + i) & 0xC0) != 0x80)
            return {};
        code = code << 6 | (byte(at + i) & 0x3F);
    }
    constexpr uint32_t kLeast[] = {0, 0, 0x80, 0x800, 0x10000};
    if (code < kLeast[length] || code > 0x10FFFF || (code >= 0xD800 && code < 0xE000))
        return {};
    return {length, true, !isControl(code) && !turnsDirection(code)};
}

} // namespace

std::string shown(std::string_view text)
{
    std::string out;
    for (size_t at = 0; at < text.size();) {
        const auto character = characterAt(text, at);
        const auto bytes = text.substr(at, character.length);
        if (character.isText || bytes == "\n" || bytes == "\t")
            out += bytes;
        else
            for (const char b : bytes)
                out += fmt::format("\\x{:02x}", uint8_t(b));
        at += character.length;
    }
    return out;
}

bool isOneLine(std::string_view text)
{
    for (size_t at = 0; at < text.size();) {
        const auto character = characterAt(text, at);
        if (!character.isText)
            return false;
        at += character.length;
    }
    return true;
}

bool isUtf8(std::string_view text)
{
    for (size_t at = 0; at < text.size();) {
        const auto character = characterAt(text, at);
        if (!character.isWellFormed)
            return false;
        at += character.length;
    }
    return true;
}

std::string oneLine(std::string_view text)
{
    std::string out;
    bool isGap = false;
    for (size_t at = 0; at < text.size();) {
        const auto character = characterAt(text, at);
        if (character.isText) {
            if (isGap && !out.empty())
                out += ' ';
            out += text.substr(at, character.length);
        }
        isGap = !character.isText && uint8_t(text[at]) < 0x80;
        at += character.length;
    }
    return out;
}

} // namespace wavechroma
