#pragma once
#include "core/base/language.h"
#include "core/values/drift.h"

namespace wavechroma::words {

/// The answer, the cause that explains most, the others, and what to do: "Pass, ΔE 1.2 (1.1 when it was
/// calibrated). The light is 12 mired warmer. …"
[[nodiscard]] std::string drift(const DriftCheck &check, const Language &language = plain());
/// One cause: "The light is 0.3 stops weaker."
[[nodiscard]] std::string driftCause(const DriftReason &cause, const Language &language = plain());
/// "Shoot the chart again and calibrate by it."; empty where nothing is to be done.
[[nodiscard]] std::string driftAdvice(DriftAdvice advice, const Language &language = plain());

/// "A new chart is due on 2026-11-13, or after 982 more product frames."
[[nodiscard]] std::string driftDue(const std::string &on, int framesLeft, bool isFailed,
                                   const Language &language = plain());

} // namespace wavechroma::words
