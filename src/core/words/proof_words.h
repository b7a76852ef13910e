#pragma once
#include "core/base/language.h"
#include "core/values/exposure_aims.h"
#include "core/values/probe.h"
#include "core/values/proof.h"

namespace wavechroma::words {

/// The error in words people use: "a little lighter, redder". Lightness when |ΔL*| ≥ 0.5; then the strongest
/// of the hue directions red–green (Δa*) and yellow–blue (Δb*), or "stronger" / "duller" in colour when
/// chroma leads. "a little" below 1.5, "much" from 5. Greys (C*ab up to 10) never get a chroma word. "no
/// visible error" when all are small.
[[nodiscard]] std::string direction(const PatchProof &patch, const Language &language = plain());
[[nodiscard]] std::string direction(const Probe &probe,
                                    const Language &language = plain()); ///< of its target
/// "ΔE76 mean 2.41 of 3.0, worst A3 7.10 of 6.0": in any measure, beside the limits that are set.
[[nodiscard]] std::string held(const HeldErrors &errors, const Language &language = plain());
/// "ΔE00 mean 2.0, any one patch 4.0; ΔE76 mean 3.0".
[[nodiscard]] std::string limits(const ProofLimits &limits, const Language &language = plain());
/// "a trace cool", "neutral".
[[nodiscard]] std::string cast(const NeutralProof &neutrals, const Language &language = plain());
/// "D1 is L* 90.12, aim 92.00 ± 1.0: fail, open up 0.07 stops".
[[nodiscard]] std::string aimed(const AimedNeutral &neutral, const Language &language = plain());

} // namespace wavechroma::words
