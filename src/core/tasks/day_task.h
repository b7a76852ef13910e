#pragma once
#include "core/base/result.h"

#include <filesystem>

namespace wavechroma {

/// The job in a folder as `wavechroma.day/1`.
[[nodiscard]] Result<std::string> dayOf(const std::filesystem::path &folder);

} // namespace wavechroma
