#pragma once
#include "core/balance/balance.h"
#include "core/chart/chart_definition.h"
#include "core/fit/calibration.h"
#include "core/raw/raw_frame.h"
#include "core/values/reading.h"

#include <filesystem>

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
/// A preset on a frame that shows nothing neutral, by what both cameras took for white: more than 40 mired
/// apart. A camera that is set to one white says nothing by it.
[[nodiscard]] Refusal doubtedPreset(const Balance &preset, const FileColor &frame, const std::string &file);
/// A neutral that is none: a patch whose reference is more than C*ab 15 from grey.
[[nodiscard]] Refusal refusedNeutral(const Reading &reading, const ChartDefinition &chart,
                                     const std::vector<std::string> &patches);
/// What a balance took for white is the colour of a thing, by the file's own matrix: further than 0.03 in Duv
/// from the Planckian locus; or under 2 200 K or over 12 000 K and more than 100 mired from what the camera
/// took for white; or 0.008 in Duv and 60 mired from it. Nothing where the file has no matrix.
[[nodiscard]] Refusal refusedWhite(const Balance &balance, const FileColor &file);
/// Another camera's reading as references, with a check of its own that says `stop`. Nothing for other files.
[[nodiscard]] Refusal refusedReference(const std::filesystem::path &reference);
/// A fit that had to take out light which varies by a quarter and more over the chart, and twice as much as
/// the frame's own check of evenness found: then it is the references that do not lie as the patches do.
[[nodiscard]] Refusal refusedLightTaken(const Calibration &calibration, const Reading &reading);
/// An area (x, y, width, height, within the frame) that is not one plain thing: the greens of its nine ninths
/// differ by more than a quarter (pixels would tell of noise, too); or that is no white, see refusedWhite().
[[nodiscard]] Refusal refusedArea(const RawFrame &frame, const std::array<double, 4> &area);

} // namespace wavechroma
