#pragma once
#include "core/base/language.h"
#include "core/values/reading.h"

namespace wavechroma::words {

/// What a check found, and what there is to do about it; the second is empty where nothing is.
[[nodiscard]] std::string finding(const Check &check, const Language &language = plain());
[[nodiscard]] std::string advice(const Check &check, const Language &language = plain());
/// The action for across the room, with its place: "Turn the chart to the lamp: the left is 17 % darker.";
/// what is so where there is nothing to do.
[[nodiscard]] std::string across(const Check &check, const Language &language = plain());
/// Both: the contract's `message`.
[[nodiscard]] std::string message(const Check &check, const Language &language = plain());
/// "left", "bottom right".
[[nodiscard]] std::string side(Side side, const Language &language = plain());

} // namespace wavechroma::words
