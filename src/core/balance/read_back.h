#pragma once
#include "core/balance/balance.h"
#include "core/values/read_back.h"

namespace wavechroma {

/// What remains of cast on each neutral, and why two greys differ: clipped, too dark, within the noise; on
/// a cube's faces, another light; else the grey's own tint (or something reflected in it).
[[nodiscard]] std::vector<NeutralState> readBack(const Reading &reading, const ChartDefinition &chart,
                                                 const Balance &balance);

/// Returns nothing for other charts, or if the other face cannot be used.
[[nodiscard]] std::optional<OtherFace> otherFaceOf(const Reading &reading, const ChartDefinition &chart,
                                                   const Balance &balance);

[[nodiscard]] PresetVerdict verdictOn(const PresetFacts &preset, const CameraFacts &frame);

} // namespace wavechroma
