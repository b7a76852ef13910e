#pragma once
#include <filesystem>
#include <string>
#include <system_error>

namespace wavechroma {

/// Is what was given a file, rather than a name that the program knows?
[[nodiscard]] inline bool looksLikeFile(const std::string &text)
{
    std::error_code code;
    return text.find('/') != text.npos || text.find('.') != text.npos || std::filesystem::exists(text, code);
}

} // namespace wavechroma
