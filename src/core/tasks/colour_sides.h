#pragma once
#include "core/proof/comparison.h"

namespace wavechroma {

/// White balance and the file's own matrix, in place of a file.
inline constexpr const char *kPlainSide = "plain";

/// A calibration as a side of a comparison, by its name. With a reading: for the reading's light; where it is
/// of the very frame that the calibration was made from, patches count as the fit without them has them.
[[nodiscard]] ColourSide sideOf(const Calibration &calibration);
[[nodiscard]] ColourSide sideOf(const Calibration &calibration, const Reading &reading,
                                const ChartDefinition &chart);
[[nodiscard]] ColourSide plainSide(const CameraView &camera);
[[nodiscard]] CameraView viewOf(const Calibration &calibration);

} // namespace wavechroma
