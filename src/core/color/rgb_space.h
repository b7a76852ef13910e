#pragma once
#include "core/color/colors.h"

#include <optional>
#include <string_view>
#include <vector>

namespace wavechroma {

enum class Transfer {
    Linear,
    Srgb,  ///< IEC 61966-2-1, also Display P3
    OpRgb, ///< IEC 61966-2-5: a pure power of 563/256
    Romm   ///< ISO 22028-2: power 1.8 with a linear start
};

/// The spaces that pictures leave in, in the order of rgbSpaces().
enum class RgbSpaceId { Srgb, DisplayP3, OpRgb, Romm };

/// An RGB space by its primaries and white; the matrices are derived, never typed.
struct RgbSpace
{
    std::string_view id;    ///< as the command line names it: "srgb"
    std::string_view title; ///< as people read it: "sRGB"
    Chromaticity red, green, blue, white;
    Transfer transfer = Transfer::Linear;
};

struct LinearRgb
{
    double r = 0, g = 0, b = 0; ///< of some RgbSpace; outside 0…1 where the colour is out of its gamut
};

[[nodiscard]] const std::vector<RgbSpace> &rgbSpaces(); ///< sRGB, Display P3, opRGB, ROMM RGB
[[nodiscard]] const RgbSpace &rgbSpace(RgbSpaceId id);
[[nodiscard]] const RgbSpace &srgb();
[[nodiscard]] std::optional<RgbSpace> rgbSpaceFromId(std::string_view id);

/// Linear RGB → XYZ under the space's own white (SMPTE RP 177-1993).
[[nodiscard]] Matrix3 xyzFromRgbMatrix(const RgbSpace &space);
/// Linear RGB → XYZ adapted to D50 by Bradford; (1, 1, 1) gives kD50White exactly up to rounding.
[[nodiscard]] Matrix3 xyzD50FromRgbMatrix(const RgbSpace &space);
[[nodiscard]] LinearRgb rgbFromXyzD50(const RgbSpace &space, const Xyz &color);

/// Linear light → code value, both 0…1. Negative input is mirrored (as scRGB does), so nothing is lost on the
/// way back.
[[nodiscard]] double encoded(Transfer transfer, double linear);
[[nodiscard]] double linearised(Transfer transfer, double code);

} // namespace wavechroma
