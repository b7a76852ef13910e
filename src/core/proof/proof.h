#pragma once
#include "core/chart/chart_definition.h"
#include "core/chart/reading.h"
#include "core/color/colors.h"
#include "core/fit/calibration.h"

namespace wavechroma {

/// One patch: what it came out as, what it should be. Differences are result − reference, CIE 1976.
struct PatchProof
{
    std::string id;
    Lab lab, reference;
    double de00 = 0, dL = 0, dC = 0, dH = 0;
    bool burnt = false; ///< saturated in the reading: its colour is not the camera's answer
    bool operator==(const PatchProof &) const = default;
};

struct Proof
{
    std::string calibration, reading; ///< names or paths, for the document
    std::vector<PatchProof> patches;  ///< in the chart's order
    ErrorSummary summary;             ///< over all patches read
    std::string worst;
    bool operator==(const Proof &) const = default;
};

/// What counts as good enough.
struct ProofLimits
{
    double mean = 2.0;  ///< ΔE2000 over the chart
    double patch = 4.0; ///< ΔE2000 of any one patch
    bool operator==(const ProofLimits &) const = default;
};
[[nodiscard]] bool passes(const Proof &proof, const ProofLimits &limits = {});

/// Applies a calibration to any reading of a chart. Patches without a reading or a reference are left out;
/// Unusable when none is left. References are the calibration's kind (see Appearance); one of several lights
/// is taken for the reading's own.
[[nodiscard]] Result<Proof> prove(const Calibration &calibration, const Reading &reading,
                                  const ChartDefinition &chart);

/// Camera RGB of the neutral that `balance` would take unasked: what tells a calibration of several lights
/// which of them it is.
[[nodiscard]] std::optional<Vector3> neutralIn(const Reading &reading, const ChartDefinition &chart);

/// Mean ΔE2000 and mean cast of the chart's neutrals that are not burnt.
struct NeutralProof
{
    double mean = 0;
    double castA = 0, castB = 0; ///< a* and b* off their references
};
[[nodiscard]] NeutralProof neutralsOf(const Proof &proof, const ChartDefinition &chart);

} // namespace wavechroma
