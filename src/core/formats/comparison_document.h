#pragma once
#include "core/values/comparison.h"

#include <string>

namespace wavechroma {

/// `wavechroma.comparison/1`.
[[nodiscard]] std::string documentOf(const Comparison &comparison);

} // namespace wavechroma
