#pragma once
#include "core/base/language.h"
#include "core/base/phrase.h"

#include <string>
#include <string_view>
#include <vector>

/// Templates with named places. A place is {name}, {name:format} or {name|one|many}:
///   {stops:2}    so many decimals, and a true minus sign      {share:%1}  a ratio as per cent, so many
///   decimals {change:+2}  always with a sign                           {light:K}   kelvin with a gap at the
///   thousands {size:stops} in thirds of a stop, as photographers say    {n|is|are}  by the count's plural
///   form      {nm:g}       as many decimals as it has
/// Everything else stands for itself. A place that is not given shows as its own name in braces, so that a
/// slip is seen.
namespace wavechroma::words {

[[nodiscard]] std::string filled(std::string_view templateText, const Places &places,
                                 const Language &language);
[[nodiscard]] std::string filled(const Phrase &phrase, const Language &language);

/// Stops in thirds as photographers say them: "1/3 stop", "1 2/3 stops", "2 stops". The sign is dropped.
[[nodiscard]] std::string stops(double stops, const Language &language);
/// "A1, B2 and 3 more": at most four of them.
[[nodiscard]] std::string listed(const std::vector<std::string> &ids, const Language &language);
/// Sentences with spaces between; empty ones are passed over.
[[nodiscard]] std::string joined(const std::vector<std::string> &sentences, const char *between = " ");

} // namespace wavechroma::words
