#pragma once
#include "core/base/language.h"
#include "core/values/strike.h"

namespace wavechroma::words {

/// "2 things are still missing", "Nothing is missing: turn the lamps off".
[[nodiscard]] std::string strikeAnswer(const StrikeCard &card, const Language &language = plain());
/// "Chart", "The light moved", "No flat" …: a few words, readable across the room.
[[nodiscard]] std::string strikeTitle(const StrikeItem &item, const Language &language = plain());
/// What is there, or what to do now.
[[nodiscard]] std::string strikeDetail(const StrikeItem &item, const Language &language = plain());

} // namespace wavechroma::words
