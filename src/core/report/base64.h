#pragma once
#include <string>
#include <string_view>

namespace wavechroma {

/// RFC 4648, 4, with padding.
[[nodiscard]] std::string base64(std::string_view bytes);

} // namespace wavechroma
