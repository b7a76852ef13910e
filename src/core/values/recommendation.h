#pragma once
#include "core/values/parts.h"

#include <cstddef>
#include <string>

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

} // namespace wavechroma
