#pragma once
#include "core/base/result.h"

#include <filesystem>
#include <vector>

namespace wavechroma {

/// The job in a folder as `wavechroma.day/1`. Frames whose calibration cannot be read are served by nothing
/// there; `damaged` says which documents these are, each once.
[[nodiscard]] Result<std::string> dayOf(const std::filesystem::path &folder, std::vector<Error> &damaged);

} // namespace wavechroma
