#pragma once
#include "core/base/language.h"
#include "core/values/station_agreement.h"

namespace wavechroma::words {

/// How far the stations are apart, the pair that disagrees most and what would mend it; then what drawing
/// together gained and cost, where it was asked for.
/// What no drawing together mends of the worst pair: most of it, by more than ΔE 1; empty otherwise.
[[nodiscard]] std::string stays(const StationAgreement &agreement, const Language &language = plain());
[[nodiscard]] std::string drawnTogether(const DrawnFigures &drawn, const Language &language = plain());
[[nodiscard]] std::string agreement(const StationAgreement &agreement, const Language &language = plain());

} // namespace wavechroma::words
