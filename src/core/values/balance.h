#pragma once
#include "core/base/camera_facts.h"
#include "core/color/temperature.h"

#include <array>
#include <optional>
#include <string>
#include <vector>

namespace wavechroma {

/// A patch is left out of balance and fit from this share of saturated pixels on.
inline constexpr double kMostClipped = 0.01;

/// Share of pixels at or below black from which a mean is biased upward.
inline constexpr double kMostLow = 0.10;

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
    std::optional<Vector3> asShotNeutral = {}; ///< what that camera took for white on the frame that it is of
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

} // namespace wavechroma
