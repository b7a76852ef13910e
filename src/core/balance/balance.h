#pragma once
#include "core/base/result.h"
#include "core/chart/chart_definition.h"
#include "core/chart/reading.h"
#include "core/color/camera_matrices.h"
#include "core/color/temperature.h"

#include <optional>

namespace wavechroma {

/// A patch is left out of balance and fit from this share of saturated pixels on.
inline constexpr double kMostClipped = 0.01;
/// … and from this share of pixels at or below black on: its mean is then biased upward.
inline constexpr double kMostLow = 0.10;

/// Read, with samples of all channels above black, and neither burnt nor sunk.
[[nodiscard]] bool isUsable(const PatchReading &patch);

/// What a balance was taken from: patches of a reading, or an area of a frame.
struct BalanceSource
{
    std::string image;
    std::vector<std::string> patches;          ///< empty when an area was used
    std::optional<std::array<double, 4>> area; ///< x, y, width, height in frame pixels
    bool operator==(const BalanceSource &) const = default;
};

/// A deliberate departure from neutral, in steps of one unit of a*b* on a grey of L* 65; see leaned().
struct Lean
{
    double warmer = 0; ///< b*; below 0: cooler
    double rosier = 0; ///< a*; below 0: greener
    bool operator==(const Lean &) const = default;
};

/// Kept under a name, for other frames.
struct PresetFacts
{
    std::string name, setup;
    CameraFacts camera;
    bool operator==(const PresetFacts &) const = default;
};

/// multipliers × camera RGB makes the chosen neutral equal in all three channels; green's is 1. The lean
/// stays apart from it, so that it can be taken back.
struct Balance
{
    Vector3 multipliers{1, 1, 1};
    Lean lean;
    std::optional<Vector3> leaned; ///< the multipliers with the lean in them, where there is one
    std::optional<PresetFacts> preset;
    CameraRgb neutral;
    BalanceSource source;
    std::optional<Temperature> temperature; ///< of the light, where a colour matrix is known
    bool operator==(const Balance &) const;
};

/// The patch that `balance` takes unasked: the lightest usable mid-grey (reference L* 30…85) of the chart's
/// neutrals, of two equal ones the more brightly lit; a chart's only neutral whatever its lightness. Nothing
/// when none is usable.
[[nodiscard]] std::optional<std::string> defaultNeutral(const Reading &reading, const ChartDefinition &chart);

/// From patches of a reading; several are averaged after each was scaled to the first one's green, so that a
/// dark one counts as much as a light one. Unusable, naming the patch, when one is unknown, burnt or without
/// signal.
[[nodiscard]] Result<Balance> balanceFromPatches(const Reading &reading, const std::vector<std::string> &ids);

/// From an area read off a frame (see sampleWindow).
[[nodiscard]] Result<Balance> balanceFromArea(const std::string &image, const FileColor &color,
                                              const std::array<double, 4> &area, const PatchReading &samples);

/// The chromaticity of the light whose neutral gives this camera RGB, by the file's own matrices: the
/// iteration of the DNG specification 1.4, chapter 6, "Translating camera neutral coordinates to white
/// balance xy coordinates"; two matrices are interpolated in mired. Nothing when the file has no matrix or
/// the neutral is not a light's.
[[nodiscard]] std::optional<Chromaticity> lightFromNeutral(const FileColor &color, const Vector3 &neutral);

} // namespace wavechroma
