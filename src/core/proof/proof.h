#pragma once
#include "core/chart/chart_definition.h"
#include "core/color/colors.h"
#include "core/fit/calibration.h"
#include "core/values/proof.h"
#include "core/values/reading.h"

namespace wavechroma {

/// A proof's errors in each measure that limits are set in, ΔE2000 first.
[[nodiscard]] std::vector<HeldErrors> heldTo(const ProofLimits &limits, const Proof &proof);
/// Those of a calibration on the patches that it was made from: the mean as fits without each patch have it,
/// where it keeps that, the worst as it is. One whose patches are not kept has no means.
[[nodiscard]] std::vector<HeldErrors> heldTo(const ProofLimits &limits, const Calibration &calibration);
/// Do they hold in every measure?
[[nodiscard]] bool passes(const Proof &proof, const ProofLimits &limits = {});

/// Applies a calibration to any reading of a chart. Patches without a reading or a reference are left out;
/// Unusable when none is left. References are the calibration's kind (see Appearance); one of several lights
/// is taken for the reading's own.
[[nodiscard]] Result<Proof> prove(const Calibration &calibration, const Reading &reading,
                                  const ChartDefinition &chart);

/// Camera RGB of the neutral that `balance` would take unasked: what tells a calibration of several lights
/// which of them it is.
[[nodiscard]] std::optional<Vector3> neutralIn(const Reading &reading, const ChartDefinition &chart);

[[nodiscard]] NeutralProof neutralsOf(const Proof &proof, const ChartDefinition &chart);

} // namespace wavechroma
