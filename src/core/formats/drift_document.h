#pragma once
#include "core/values/drift.h"

#include <string>

namespace wavechroma {

/// `wavechroma.drift/1`.
[[nodiscard]] std::string documentOf(const Drift &drift);

} // namespace wavechroma
