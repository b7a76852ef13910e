#pragma once
#include "core/values/calibration.h"

namespace wavechroma {

/// One patch: what it came out as, what it should be. Differences are result − reference, CIE 1976.
struct PatchProof
{
    std::string id;
    Lab lab, reference;
    double de00 = 0, dL = 0, dC = 0, dH = 0;
    bool clipped = false; ///< saturated in the reading: its colour is not the camera's answer
    bool operator==(const PatchProof &) const = default;
};

struct Proof
{
    std::string calibration, reading; ///< names or paths, for the document
    std::vector<PatchProof> patches;  ///< in the chart's order
    ErrorSummary summary;             ///< over all patches read
    std::string worst;
    std::optional<bool> passes = {}; ///< the limits that were given for it
    bool operator==(const Proof &) const = default;
};

/// What counts as good enough.
struct ProofLimits
{
    double mean = 2.0;  ///< ΔE2000 over the chart
    double patch = 4.0; ///< ΔE2000 of any one patch
    bool operator==(const ProofLimits &) const = default;
};

/// Mean ΔE2000 and mean cast of the chart's neutrals that are not clipped.
struct NeutralProof
{
    double mean = 0;
    double castA = 0, castB = 0; ///< a* and b* off their references
};

} // namespace wavechroma
