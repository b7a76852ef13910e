#pragma once
#include "core/chart/reading.h"
#include "core/fit/calibration.h"

namespace wavechroma {

struct Recommendation
{
    size_t index = 0; ///< into the calibrations
    std::string why;  ///< one sentence
};

/// The model to use of those fitted to one reading (at least one). The simplest unless a richer one promises
/// at least 4 % less error on patches it has not seen: 24 patches do not tell less apart. The root polynomial
/// may err a tenth more there than the model before it: a patch left out is mostly the chart's outermost of
/// its kind, where roots guess worst, while on the colours between the patches they are better than a matrix
/// for real cameras (Finlayson, Mackiewicz and Hurlbert 2015) and for the simulated ones (docs/methods.md). A
/// model that folds, stretches colour differences more than threefold, or moves by more than half its unseen
/// error with the reading's noise is not recommended. Where the reading is doubtful (a check of its light,
/// flare, glare or hidden patches warns), or much had to be taken out of it, nothing richer than the matrix
/// is, for a richer one would follow the fault.
[[nodiscard]] Recommendation recommendationOf(const std::vector<const Calibration *> &calibrations,
                                              const Reading &reading);
[[nodiscard]] Recommendation recommendationOf(const std::vector<Calibration> &calibrations,
                                              const Reading &reading);

/// Stands in the place of a model's name for the one recommended for the reading at hand.
inline constexpr const char *kRecommended = "recommended";

} // namespace wavechroma
