#pragma once
#include <string>
#include <string_view>

namespace wavechroma {

/// A path as documents hold it, whose text is UTF-8: as it is; one that is not UTF-8, or would be taken for a
/// URI, as "file:" and the path, its bytes percent-encoded (RFC 8089 where it is absolute, else RFC 3986), so
/// that none is lost.
[[nodiscard]] std::string writtenPath(std::string_view path);
/// Back again.
[[nodiscard]] std::string pathWritten(std::string_view text);

} // namespace wavechroma
