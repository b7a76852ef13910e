#pragma once
#include "core/balance/balance.h"
#include "core/chart/chart_definition.h"
#include "core/fit/calibration.h"
#include "core/raw/raw_frame.h"
#include "core/values/reading.h"

namespace wavechroma {

/// What cannot be right and would go through in silence: what is wrong and what would be right, for whoever
/// asked to say whether they know better. Nothing: no doubt.
using Refusal = std::optional<words::Phrase>;

/// A reading to be fitted: a check says `stop`; the references are another chart's, or lie otherwise than the
/// patches (rows or columns off by one, turned, mirrored, or the reading is: told by which of these fits the
/// pattern of colours at under half the error); a light that is told is over 60 mired from what the neutral
/// says through the file's own matrix.
[[nodiscard]] Refusal refusedFit(const Reading &reading, const ChartDefinition &chart,
                                 const std::optional<NamedLight> &told);
/// The last of these alone.
[[nodiscard]] Refusal refusedLight(const Reading &reading, const NamedLight &told);
/// The second alone; some tens of milliseconds where a matrix leaves ΔE 8 on average, else one fit.
[[nodiscard]] Refusal refusedReferences(const Reading &reading, const ChartDefinition &chart);
/// A calibration and what it is to be used on: another camera or lens.
[[nodiscard]] Refusal refusedStation(const Calibration &calibration, const CameraFacts &frame,
                                     const std::string &file);
/// Is a frame under another light than a calibration's, by what both cameras took for white, more than 40
/// mired apart? A camera that is set to one white says nothing by it, and none that finds its own is nearer
/// than that.
[[nodiscard]] Refusal doubtedLight(const Calibration &calibration, const FileColor &frame,
                                   const std::string &file);
/// Asks the same, and compares the light: neutrals, green 1, that differ by more than 8 % in red or blue; or
/// a calibration of evened readings on one that is not.
[[nodiscard]] Refusal doubtedReading(const Calibration &calibration, const Reading &reading,
                                     const ChartDefinition &chart);
/// A preset on a frame with a chart whose own neutral is of another light: more than 8 % off in red or blue.
[[nodiscard]] Refusal refusedPreset(const Balance &preset, const Reading &reading,
                                    const ChartDefinition &chart);
/// A neutral that is none: a patch whose reference is more than C*ab 15 from grey.
[[nodiscard]] Refusal refusedNeutral(const Reading &reading, const ChartDefinition &chart,
                                     const std::vector<std::string> &patches);
/// An area (x, y, width, height, within the frame) that is not one plain thing: the greens of its nine ninths
/// differ by more than a quarter. Pixels would tell of noise, too.
[[nodiscard]] Refusal refusedArea(const RawFrame &frame, const std::array<double, 4> &area);

} // namespace wavechroma
