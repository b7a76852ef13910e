#pragma once
#include "core/base/result.h"
#include "core/fit/hue_sectors.h"

namespace wavechroma {

/// What the sectors of hue have to be changed by, so that hueSectorsOf() gives `wanted`, eight sectors as it
/// gives them, for the calibration with its lean's other amounts as they are. A difference that a table of
/// two decimals cannot hold is none, so that a table that was not edited changes nothing. Unusable where it
/// would take more than check() allows.
[[nodiscard]] Result<std::array<SectorLean, kHueSectors>> sectorLeanFor(const Calibration &calibration,
                                                                        const std::vector<HueSector> &wanted);

} // namespace wavechroma
