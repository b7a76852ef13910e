#pragma once
#include <algorithm>
#include <string>

/// Letters and digits of ASCII, whatever the locale: under tr_TR the library's toupper('i') is no 'I', and no
/// file format means that. Bytes above 127 stay as they are.
namespace wavechroma::letters {

[[nodiscard]] constexpr bool isDigit(char c)
{
    return c >= '0' && c <= '9';
}
[[nodiscard]] constexpr bool isUpper(char c)
{
    return c >= 'A' && c <= 'Z';
}
[[nodiscard]] constexpr bool isLetter(char c)
{
    return isUpper(c) || (c >= 'a' && c <= 'z');
}
[[nodiscard]] constexpr bool isLetterOrDigit(char c)
{
    return isLetter(c) || isDigit(c);
}
[[nodiscard]] constexpr char lower(char c)
{
    return isUpper(c) ? char(c - 'A' + 'a') : c;
}
[[nodiscard]] constexpr char upper(char c)
{
    return c >= 'a' && c <= 'z' ? char(c - 'a' + 'A') : c;
}
[[nodiscard]] inline std::string lower(std::string text)
{
    std::transform(text.begin(), text.end(), text.begin(), [](char c) { return lower(c); });
    return text;
}
[[nodiscard]] inline std::string upper(std::string text)
{
    std::transform(text.begin(), text.end(), text.begin(), [](char c) { return upper(c); });
    return text;
}

} // namespace wavechroma::letters
