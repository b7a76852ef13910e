#pragma once
#include "core/color/difference.h"
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

/// What counts as good enough in one measure of colour difference; 0: no limit is set.
struct ErrorLimits
{
    double mean = 0, patch = 0; ///< over the chart; of any one patch
    [[nodiscard]] bool areSet() const { return mean > 0 || patch > 0; }
    bool operator==(const ErrorLimits &) const = default;
};

/// What counts as good enough: in ΔE2000 always, in other measures where they are set.
struct ProofLimits
{
    double mean = 2.0;  ///< ΔE2000 over the chart
    double patch = 4.0; ///< ΔE2000 of any one patch
    ErrorLimits de94 = {}, de94Textiles = {}, de76 = {};
    [[nodiscard]] ErrorLimits in(DifferenceMeasure measure) const
    {
        switch (measure) {
        case DifferenceMeasure::De2000:
            break;
        case DifferenceMeasure::De94:
            return de94;
        case DifferenceMeasure::De94Textiles:
            return de94Textiles;
        case DifferenceMeasure::De76:
            return de76;
        }
        return {mean, patch};
    }
    bool operator==(const ProofLimits &) const = default;
};

/// Errors in one measure beside what they are held to.
struct HeldErrors
{
    DifferenceMeasure measure = DifferenceMeasure::De2000;
    ErrorLimits limits;
    double mean = 0, worst = 0; ///< over the patches
    std::string patch;          ///< the worst one
    [[nodiscard]] bool meanHolds() const { return !isLimit(limits.mean) || mean <= limits.mean; }
    [[nodiscard]] bool patchHolds() const { return !isLimit(limits.patch) || worst <= limits.patch; }
    [[nodiscard]] bool hold() const { return meanHolds() && patchHolds(); }
    bool operator==(const HeldErrors &) const = default;

private:
    /// A 0 of ΔE2000 is a limit like any other, though nothing holds it.
    [[nodiscard]] bool isLimit(double limit) const
    {
        return limit > 0 || measure == DifferenceMeasure::De2000;
    }
};

/// Mean ΔE2000 and mean cast of the chart's neutrals that are not clipped.
struct NeutralProof
{
    double mean = 0;
    double castA = 0, castB = 0; ///< a* and b* off their references
};

} // namespace wavechroma
