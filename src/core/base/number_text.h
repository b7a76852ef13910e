#pragma once
#include <optional>
#include <string>
#include <string_view>

namespace wavechroma {

/// The one formatter for numbers that people read: window, call-outs and command line messages use it alike.
/// A value that would print as minus zero prints as zero; a value that is not finite prints as "–".
[[nodiscard]] std::string fixedText(double value, int decimals);
/// Always with a sign: "+0.002", "−1.5".
[[nodiscard]] std::string signedText(double value, int decimals);
/// Returns a number with as many decimals as needed, at most six digits: "380", "2.5".
[[nodiscard]] std::string shortestText(double value);
/// A ratio 0…1 as "14 %".
[[nodiscard]] std::string percentText(double ratio, int decimals = 0);
/// Kelvin with a thin gap at the thousands, to the nearest 10: "5 120 K".
[[nodiscard]] std::string kelvinText(double kelvin);
/// Exposure time as a photographer writes it: "1/60 s", "2 s".
[[nodiscard]] std::string exposureText(double seconds);

/// A number as files and options write it, with a decimal point under every locale. It has to be all of the
/// text, and finite; else nothing.
[[nodiscard]] std::optional<double> numberFrom(std::string_view text);
/// The number that a text begins with, which is taken off its front.
[[nodiscard]] std::optional<double> takeNumber(std::string_view &text);

} // namespace wavechroma
