#pragma once
#include "core/chart/reading.h"
#include "core/fit/calibration.h"

namespace wavechroma {

/// Which of the calibrations fitted to one reading to use, and what decided it.
struct Recommendation
{
    enum class Why {
        NothingRicherIsBetter, ///< the simplest, or one with nothing clearly better beyond it
        ClearlyBetter,         ///< than a plain matrix on patches not seen
        Credit,                ///< no better there, but by its part's credit (see parts.h)
        HeldBack,              ///< a richer one would follow what is doubtful in the reading
    };
    size_t index = 0; ///< into the calibrations
    Why why = Why::NothingRicherIsBetter;
    Parts parts;
    double unseen = 0;      ///< its mean ΔE2000 on patches it has not seen
    Parts rival;            ///< that it is compared with: the plain matrix, or the best sound one beside it
    double rivalUnseen = 0; ///< 0: there is none
    std::string doubt;      ///< the check that speaks against richer ones, "taken-flare" or "taken-patches"
    double flare = 0;       ///< with "taken-flare": what was taken out
    bool operator==(const Recommendation &) const = default;
};

/// The one to use of those fitted to one reading (at least one), given from the stiffest to the freest. The
/// simplest unless a freer one promises at least 4 % less error on patches it has not seen: 24 patches do
/// not tell less apart; a part with credit may err as much more there. A model that folds, stretches colour
/// differences more than threefold, or moves by more than half its unseen error with the reading's noise is
/// not recommended. Where the reading is doubtful (a check of its light, flare, glare or hidden patches
/// warns), or much had to be taken out of it, nothing freer than the matrix is, for it would follow the
/// fault.
[[nodiscard]] Recommendation recommendationOf(const std::vector<const Calibration *> &calibrations,
                                              const Reading &reading);
[[nodiscard]] Recommendation recommendationOf(const std::vector<Calibration> &calibrations,
                                              const Reading &reading);

} // namespace wavechroma
