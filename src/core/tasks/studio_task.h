#pragma once
#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/sim/studio_set.h"

#include <filesystem>

namespace wavechroma {

/// One press of the simulated camera's shutter: a DNG file, whole or not at all. Unusable for settings that
/// the studio does not have, a file that cannot be written, and when stopped.
[[nodiscard]] Result<Done> shootToFile(const sim::StudioSettings &settings, const std::filesystem::path &file,
                                       const Progress &progress = {});

/// The next free name of a camera's roll in a folder, as cameras number them: "TA_0001.dng".
[[nodiscard]] std::filesystem::path nextOnRoll(const std::filesystem::path &folder,
                                               const std::string &camera);

} // namespace wavechroma
