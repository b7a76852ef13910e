#pragma once
#include "core/values/parts.h"

#include <array>
#include <optional>

namespace wavechroma {

struct JobState;

/// The crossing that serves all charts of a job best: parts chosen for each reading apart make stations agree
/// less, since each kind of part errs in its own way. Of the crossings that every chart supports
/// (CalibrationBrief::isSound; charts that hold colour back have no say), from the stiffest to the freest, a
/// freer one only where the geometric mean of the unseen errors, each over the credit of its part (parts.h),
/// is 4 % lower, or its credit is higher. Of raw frames and of finished pictures; nothing where no chart of
/// the kind was fitted.
using CommonParts = std::array<std::optional<Parts>, 2>;
[[nodiscard]] CommonParts commonParts(const JobState &state);

/// Is one crossing of a chart so much better than another, by a fifth of the unseen error, that its station
/// may differ from the others?
[[nodiscard]] bool isMuchBetter(const Parts &parts, double unseen, const Parts &than, double thanUnseen);

} // namespace wavechroma
