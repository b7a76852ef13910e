#pragma once
#include "core/chart/reading.h"
#include "core/color/rgb_space.h"
#include "core/fit/calibration.h"

#include <map>

namespace wavechroma {

/// Where a neutral should land: an L*, or a code value in an output space.
struct ExposureAim
{
    double value = 0;
    double tolerance = 1;
    std::optional<RgbSpace> space; ///< absent: `value` and `tolerance` are L*; else codes of 0…255 in it
};

using ExposureAims = std::map<std::string, ExposureAim>; ///< by patch id

struct AimedNeutral
{
    std::string id;
    bool isCode = false;                     ///< in codes of an output space rather than L*
    double seen = 0, aim = 0, tolerance = 0; ///< in the aim's unit
    double stops = 0;                        ///< to bring it there: positive opens up
    bool usable = true, passes = false;
};

/// Every neutral of a reading against its aim, as the calibration's own exposure has it; without an aim of
/// its own a neutral is to be what its reference says, within 1 L*. A reading whose light was evened by a
/// flat is taken as evened.
[[nodiscard]] std::vector<AimedNeutral> aimedNeutrals(const Calibration &calibration, const Reading &reading,
                                                      const ChartDefinition &chart,
                                                      const ExposureAims &aims = {});

/// "D1=92", "D1=92±0.5", "D1=242@srgb", several with commas. Unusable for values that cannot be.
[[nodiscard]] Result<ExposureAims> aimsFrom(const std::string &text);
/// The same, and Unusable for patches that the chart does not have.
[[nodiscard]] Result<ExposureAims> aimsFrom(const std::string &text, const ChartDefinition &chart);

} // namespace wavechroma
