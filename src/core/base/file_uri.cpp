#include "core/base/file_uri.h"

#include "core/base/shown_text.h"

#include <cstdint>
#include <fmt/format.h>

namespace wavechroma {

namespace {

constexpr std::string_view kScheme = "file:";

/// RFC 3986, section 2.3, and the slash.
bool staysAsItIs(unsigned char c)
{
    return (c >= '0' && c <= '9') || (c >= 'A' && c <= 'Z') || (c >= 'a' && c <= 'z') || c == '-' ||
           c == '.' || c == '_' || c == '~' || c == '/';
}

int hexValue(char c)
{
    return c >= '0' && c <= '9'   ? c - '0'
           : c >= 'A' && c <= 'F' ? c - 'A' + 10
           : c >= 'a' && c <= 'f' ? c - 'a' + 10
                                  : -1;
}

} // namespace

std::string writtenPath(std::string_view path)
{
    if (isUtf8(path) && !path.starts_with(kScheme))
        return std::string(path);
    std::string out(kScheme);
    for (const char c : path)
        out += staysAsItIs(uint8_t(c)) ? std::string(1, c) : fmt::format("%{:02X}", uint8_t(c));
    return out;
}

std::string pathWritten(std::string_view text)
{
    if (!text.starts_with(kScheme))
        return std::string(text);
    text.remove_prefix(kScheme.size());
    std::string out;
    for (size_t i = 0; i < text.size(); ++i) {
        const int high = i + 2 < text.size() ? hexValue(text[i + 1]) : -1,
                  low = i + 2 < text.size() ? hexValue(text[i + 2]) : -1;
        const bool isByte = text[i] == '%' && high >= 0 && low >= 0 && high + low > 0;
        out += isByte ? char(high * 16 + low) : text[i];
        i += isByte ? 2 : 0;
    }
    return out;
}

} // namespace wavechroma
