#pragma once

namespace wavechroma {

/// What lights a setup. The user chooses it; nothing is read out of the text that describes the lamps.
enum class LampKind { Unknown, Strobe, Led, Tube, Tungsten, Daylight, Mixed };

/// Whether the time of exposure changes how much light the sensor gets. It does under lamps that clip; a
/// flash is shorter than any time that is set.
enum class ExposureTime { Unknown, Counts, DoesNotCount };

/// All that charts have shown of it, in any order: evidence that contradicts itself is none, and stays so
/// whatever comes after.
struct ShownTime
{
    bool counts = false, doesNotCount = false;
    bool operator==(const ShownTime &) const = default;
};

} // namespace wavechroma
