#pragma once
#include "core/chart/reading.h"

#include <optional>
#include <string>
#include <vector>

namespace wavechroma {

/// What lights a setup. The user chooses it; nothing is read out of the text that describes the lamps.
enum class LampKind { Unknown, Strobe, Led, Tube, Tungsten, Daylight, Mixed };
[[nodiscard]] const std::vector<LampKind> &lampKinds(); ///< in that order
[[nodiscard]] const char *nameOf(LampKind kind);        ///< the contract's: "strobe" …
[[nodiscard]] std::optional<LampKind> lampKindFrom(const std::string &name);

/// Whether the time of exposure changes how much light the sensor gets. It does under lamps that burn; a
/// flash is shorter than any time that is set.
enum class ExposureTime { Unknown, Counts, DoesNotCount };
/// Unknown for a kind that is not known, and for mixed light.
[[nodiscard]] ExposureTime exposureTimeUnder(LampKind kind);

/// What two readings of one chart under one light show of it, from their levels and settings. Unknown where
/// the times differ by less than half a stop, or the levels fit neither: closer than a quarter of the
/// difference of the times.
[[nodiscard]] ExposureTime shownBy(const Reading &before, const Reading &after);
/// What several pieces of evidence say together: Unknown where they contradict each other.
[[nodiscard]] ExposureTime together(ExposureTime a, ExposureTime b);

} // namespace wavechroma
