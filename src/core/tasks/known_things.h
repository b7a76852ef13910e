#pragma once
#include "core/base/result.h"
#include "core/values/calibration.h"
#include "core/values/reading.h"

#include <filesystem>
#include <vector>

namespace wavechroma {

/// Places with targets of a `wavechroma.probes/1` (or an array), measured anew on their frames for a fit of
/// `reading`: at the level of its chart (time, aperture and ISO taken out), evened by its flats. A thing of
/// even colour counts as much as a patch, one whose samples scatter by a twentieth half of that. Places
/// without a target are passed over. Unusable, naming frame and place, where there is no target at all, for a
/// frame of another camera or lens or without settings, for a place outside the frame or burnt, and for a
/// name that is a patch's or there twice.
[[nodiscard]] Result<std::vector<KnownThing>> knownThings(const std::filesystem::path &probes,
                                                          const Reading &reading);

} // namespace wavechroma
