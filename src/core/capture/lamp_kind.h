#pragma once
#include "core/values/lamp_kind.h"
#include "core/values/reading.h"

#include <optional>
#include <string>
#include <vector>

namespace wavechroma {

[[nodiscard]] const std::vector<LampKind> &lampKinds(); ///< in that order
[[nodiscard]] const char *nameOf(LampKind kind);        ///< the contract's: "strobe" …
[[nodiscard]] std::optional<LampKind> lampKindFrom(const std::string &name);

/// Unknown for a kind that is not known, and for mixed light.
[[nodiscard]] ExposureTime exposureTimeUnder(LampKind kind);

/// What two readings of one chart under one light show of it, from their levels and settings. Unknown where
/// the times differ by less than half a stop, or the levels fit neither: closer than a quarter of the
/// difference of the times.
[[nodiscard]] ExposureTime shownBy(const Reading &before, const Reading &after);
/// What both have shown.
[[nodiscard]] ShownTime together(const ShownTime &a, const ShownTime &b);
[[nodiscard]] ShownTime shown(ExposureTime once);
/// Unknown where nothing was shown, or both.
[[nodiscard]] ExposureTime exposureTimeBy(const ShownTime &all);

} // namespace wavechroma
