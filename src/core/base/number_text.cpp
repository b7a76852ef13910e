#include "core/base/number_text.h"

#include <charconv>
#include <cmath>
#include <fmt/format.h>

namespace wavechroma {

std::string fixedText(double value, int decimals)
{
    if (!std::isfinite(value))
        return "–";
    std::string text = fmt::format("{:.{}f}", value, decimals);
    if (text.front() == '-') {
        const bool isZero = text.find_first_not_of("-0.") == std::string::npos;
        text = isZero ? text.substr(1) : "−" + text.substr(1);
    }
    return text;
}

std::string signedText(double value, int decimals)
{
    const std::string text = fixedText(value, decimals);
    return value >= 0 ? "+" + text : text;
}

std::string percentText(double ratio, int decimals)
{
    return fixedText(ratio * 100, decimals) + " %";
}

std::string kelvinText(double kelvin)
{
    if (!std::isfinite(kelvin))
        return "–";
    const long rounded = std::lround(kelvin / 10) * 10;
    if (rounded < 1000)
        return fmt::format("{} K", rounded);
    return fmt::format("{} {:03} K", rounded / 1000, rounded % 1000);
}

std::string exposureText(double seconds)
{
    if (!(seconds > 0))
        return "–";
    if (seconds < 0.4)
        return fmt::format("1/{} s", std::lround(1 / seconds));
    return fmt::format("{:.3g} s", seconds);
}

std::string shortestText(double value)
{
    return std::isfinite(value) ? fmt::format("{:g}", value == 0 ? 0.0 : value) : "–";
}

std::optional<double> takeNumber(std::string_view &text)
{
    auto digits = text;
    if (digits.starts_with('+') && digits.size() > 1 && digits[1] != '-')
        digits.remove_prefix(1); // which from_chars does not know
    double value = 0;
    const auto [end, fault] = std::from_chars(digits.data(), digits.data() + digits.size(), value);
    if (fault != std::errc() || !std::isfinite(value))
        return std::nullopt;
    text.remove_prefix(size_t(end - text.data()));
    return value;
}

std::optional<double> numberFrom(std::string_view text)
{
    const auto value = takeNumber(text);
    return text.empty() ? value : std::nullopt;
}

} // namespace wavechroma
