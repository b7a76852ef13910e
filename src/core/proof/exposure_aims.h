#pragma once
#include "core/color/rgb_space.h"
#include "core/fit/calibration.h"
#include "core/values/exposure_aims.h"
#include "core/values/reading.h"

#include <map>

namespace wavechroma {

/// Every neutral of a reading against its aim, as the calibration's own exposure has it; without an aim of
/// its own a neutral is to be what its reference says, within 1 L*. A reading whose light was evened by a
/// flat is taken as evened.
[[nodiscard]] std::vector<AimedNeutral> aimedNeutrals(const Calibration &calibration, const Reading &reading,
                                                      const ChartDefinition &chart,
                                                      const ExposureAims &aims = {});

/// "D1=92", "D1=92±0.5" (L*), "D1=242@srgb" (a code of 8 bits), "D1=95%", "D1=95%±1@oprgb" (a share of the
/// largest code, of sRGB where no space is named), several with commas. Unusable for values that cannot be.
[[nodiscard]] Result<ExposureAims> aimsFrom(const std::string &text);
/// Reads aims, and is Unusable for patches that the chart does not have, or that are none of its neutrals.
[[nodiscard]] Result<ExposureAims> aimsFrom(const std::string &text, const ChartDefinition &chart);

} // namespace wavechroma
