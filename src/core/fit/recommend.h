#pragma once
#include "core/fit/calibration.h"
#include "core/values/reading.h"
#include "core/values/recommendation.h"

namespace wavechroma {

/// The one to use of those fitted to one reading (at least one), given from the stiffest to the freest. The
/// simplest unless a freer one promises at least 4 % less error on patches it has not seen: 24 patches do
/// not tell less apart; a part with credit may err as much more there. A model that folds, stretches colour
/// differences more than threefold, or moves by more than half its unseen error with the reading's noise is
/// not recommended. Where the reading is doubtful (a check of its light, flare, glare or hidden patches
/// warns), or much had to be taken out of it, nothing freer than the matrix is, for it would follow the
/// fault.
[[nodiscard]] Recommendation recommendationOf(const std::vector<const Calibration *> &calibrations,
                                              const Reading &reading);
/// How many times as much parts may err on patches left out, see parts.h.
[[nodiscard]] double creditOf(const Parts &parts);
/// Is a freer crossing worth taking in place of a stiffer one, by their unseen errors over their credits: 4 %
/// less, or less at all where its credit is higher?
[[nodiscard]] bool isWorthIt(const Parts &parts, double unseen, const Parts &than, double thanUnseen);
/// Could one be recommended at all, whatever the others: sound, and not freer than a doubtful reading
/// supports?
[[nodiscard]] bool mayBeRecommended(const Calibration &calibration, const Reading &reading);
[[nodiscard]] Recommendation recommendationOf(const std::vector<Calibration> &calibrations,
                                              const Reading &reading);

} // namespace wavechroma
