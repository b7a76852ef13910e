#pragma once
#include "core/base/camera_facts.h"
#include "core/color/illuminant.h"
#include "core/fit/color_model.h"
#include "core/fit/parts.h"
#include "core/values/calibration.h"
#include "core/values/fitted_patch.h"

#include <array>
#include <optional>
#include <string>
#include <vector>

namespace wavechroma {

/// All zero for no values.
[[nodiscard]] ErrorSummary summaryOf(std::vector<double> values);

/// Returns how much the light that was taken out varies over the chart, 0…1.
[[nodiscard]] double lightRangeOf(const TakenOut &takenOut);

} // namespace wavechroma
