#pragma once
#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/job/job.h"
#include "core/values/calibration.h"
#include "core/values/reading.h"

#include <filesystem>
#include <vector>

namespace wavechroma {

/// Places with targets of a `wavechroma.probes/1` (or an array), measured anew on their frames for a fit of
/// `reading`: at the level of its chart (time, aperture and ISO taken out), evened by its flats. A thing of
/// even colour counts as much as a patch, one whose samples scatter by a twentieth half of that. Places
/// without a target are passed over, and of a thing on several frames all but the first. Unusable, naming
/// frame and place, where there is no target at all, for a frame of another camera or lens or without
/// settings, for a place outside the frame or burnt, and for a name that is a patch's or twice on one frame.
[[nodiscard]] Result<std::vector<KnownThing>> knownThings(const std::filesystem::path &probes,
                                                          const Reading &reading);
/// The same of a job's own probes on the frames that `chart` serves, with the job's targets.
[[nodiscard]] Result<std::vector<KnownThing>> knownThings(const Job &job, RowId chart, const Reading &reading,
                                                          const Progress &progress = {});

} // namespace wavechroma
