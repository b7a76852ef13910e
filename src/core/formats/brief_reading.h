#pragma once
#include "core/values/reading.h"

namespace wavechroma {

/// A reading without what only its own pages show, as short JSON on one line: a job keeps it beside the
/// document, see JobReading.
[[nodiscard]] std::string briefOf(const Reading &brief);
[[nodiscard]] Result<Reading> briefReadingFrom(const std::string &text, const std::string &name);

} // namespace wavechroma
