#pragma once
#include "core/base/progress.h"
#include "core/base/result.h"

#include <filesystem>
#include <string>
#include <string_view>

namespace wavechroma {

/// The SHA-256 of a file's bytes as 64 lower-case hex digits.
[[nodiscard]] Result<std::string> sha256OfFile(const std::filesystem::path &path,
                                               const Progress &progress = {});

[[nodiscard]] std::string sha256Of(std::string_view text);

} // namespace wavechroma
