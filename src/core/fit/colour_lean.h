#pragma once
#include "core/base/result.h"
#include "core/color/compressed_lab.h"
#include "core/values/colour_lean.h"

namespace wavechroma {

[[nodiscard]] CompressedLab leaned(const ColourLean &lean, const CompressedLab &color);
[[nodiscard]] Result<Done> check(const ColourLean &lean); ///< within the steps that are defined?

} // namespace wavechroma
