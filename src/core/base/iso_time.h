#pragma once
#include <optional>
#include <string>

namespace wavechroma {

/// Seconds since 1970 of an ISO 8601 time with date, hours, minutes and seconds ("2026-10-14T09:20:08", an
/// offset or Z is allowed for); a local time counts as if it were UTC, so that differences hold. Nothing for
/// other text.
[[nodiscard]] std::optional<double> secondsOf(const std::string &isoTime);

} // namespace wavechroma
