#pragma once
#include "core/base/result.h"

#include <filesystem>
#include <string>

namespace wavechroma {

/// The content of any file this program can write, told by its bytes, as JSON text: our own documents as they
/// are; DNG camera profiles, ICC profiles, CGATS and CSV tables, raw frames and pictures by what they hold.
[[nodiscard]] Result<std::string> inspectFile(const std::filesystem::path &path);

} // namespace wavechroma
