#pragma once
#include "core/base/language.h"
#include "core/values/comparison.h"

namespace wavechroma::words {

/// The one thing that matters, in a sentence or two: whether one is better, else how far apart they are and
/// where most. "B's errors are ΔE00 0.31 smaller on average (0.12 to 0.50): B is better on these patches."
[[nodiscard]] std::string comparison(const Comparison &comparison, const Language &language = plain());
/// "Held to Copy work (ΔE76 mean 3.0): A passes, B fails." Empty where nothing is to be held.
[[nodiscard]] std::string comparedLimits(const Comparison &comparison, const Language &language = plain());
/// What B does to the group over A, and whether it is better there. Empty without a group.
[[nodiscard]] std::string comparedGroup(const Comparison &comparison, const Language &language = plain());

} // namespace wavechroma::words
