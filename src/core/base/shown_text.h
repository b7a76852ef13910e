#pragma once
#include <string>
#include <string_view>

namespace wavechroma {

/// Text that somebody else made, for a terminal: control characters but tab and newline, and bytes that are
/// not UTF-8 (RFC 3629), as \x1b; characters that turn the writing's direction likewise. All else as it is.
[[nodiscard]] std::string shown(std::string_view text);

/// Does it hold control characters (C0, delete, C1), or others that shown() would not let through?
[[nodiscard]] bool isOneLine(std::string_view text);

/// RFC 3629, controls and all.
[[nodiscard]] bool isUtf8(std::string_view text);

/// Returns the text in one line: each run of control characters becomes a space, none at the ends; bytes
/// that are not UTF-8 go.
[[nodiscard]] std::string oneLine(std::string_view text);

} // namespace wavechroma
