#pragma once
#include "core/base/result.h"
#include "core/chart/chart_definition.h"
#include "core/color/camera_matrices.h"
#include "core/color/temperature.h"
#include "core/values/balance.h"
#include "core/values/reading.h"

#include <optional>

namespace wavechroma {

/// Read, with samples of all channels above black, and neither clipped nor sunk.
[[nodiscard]] bool isUsable(const PatchReading &patch);
/// What is left of doubt in a patch's mean by its pixels' scatter, one standard deviation; half of a mosaic's
/// samples are green, a quarter red, a quarter blue.
[[nodiscard]] CameraRgb doubtOfMean(const PatchReading &patch);

/// The patch that `balance` takes unasked: the lightest usable mid-grey (reference L* 30…85) of the chart's
/// neutrals, of two equal ones the more brightly lit; a chart's only neutral whatever its lightness. Nothing
/// when none is usable.
[[nodiscard]] std::optional<std::string> defaultNeutral(const Reading &reading, const ChartDefinition &chart);

/// Makes a balance from patches of a reading. Several are averaged after each was scaled to the first one's
/// green, so that a dark one counts as much as a light one. Unusable, naming the patch, when one is unknown,
/// clipped or without signal.
[[nodiscard]] Result<Balance> balanceFromPatches(const Reading &reading, const std::vector<std::string> &ids);

/// Makes a balance from an area read off a frame (see sampleWindow).
[[nodiscard]] Result<Balance> balanceFromArea(const std::string &image, const FileColor &color,
                                              const std::array<double, 4> &area, const PatchReading &samples);

/// The chromaticity of the light whose neutral gives this camera RGB, by the file's own matrices: the
/// iteration of the DNG specification 1.4, chapter 6, "Translating camera neutral coordinates to white
/// balance xy coordinates"; two matrices are interpolated in mired. Nothing when the file has no matrix or
/// the neutral is not a light's.
[[nodiscard]] std::optional<Chromaticity> lightFromNeutral(const FileColor &color, const Vector3 &neutral);

} // namespace wavechroma
