#pragma once
#include "core/chart/reading.h"
#include "core/fit/calibration.h"

namespace wavechroma {

struct Recommendation {
    size_t index = 0; ///< into the calibrations
    std::string why;  ///< one sentence
};

/// The model to use of those fitted to one reading (at least one). The simplest unless a richer one promises at least 4 % less error
/// on patches it has not seen: 24 patches do not tell less apart. A model that folds, stretches colour differences more than
/// threefold, or moves by more than half its unseen error with the reading's noise is not recommended. Where the reading is
/// doubtful (a check of its light, flare, glare or hidden patches warns), or much had to be taken out of it, nothing richer than
/// the matrix is, for a richer one would follow the fault.
[[nodiscard]] Recommendation recommendationOf(const std::vector<Calibration> &calibrations, const Reading &reading);

} // namespace wavechroma
