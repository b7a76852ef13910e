#pragma once
#include "core/fit/color_model.h"
#include "core/formats/agreement.h"

#include <vector>

namespace wavechroma {

/// DNG's hue, saturation and value table (DNG specification 1.4, chapter 6, and the tags
/// ProfileHueSatMapDims, …Data1, …Encoding): of linear ROMM RGB as HSV, hue in degrees. Values outermost,
/// then hues, saturations innermost.
struct HueSatMap
{
    struct Entry
    {
        float hueShift = 0, saturationScale = 1, valueScale = 1;
        bool operator==(const Entry &) const = default;
    };
    int hues = 0, saturations = 0, values = 0; ///< all 0: no table
    bool codedValues = false; ///< V is sRGB-coded: looked up, scaled and clipped to 1 as code, then decoded
    std::vector<Entry> entries;
    bool operator==(const HueSatMap &) const = default;
};

/// A tone curve as DNG has it: points of x and y, both 0…1, applied to linear ROMM RGB so that the hue stays:
/// to the largest and the smallest channel, the middle one keeps its place between them. From (0, 0) to (1,
/// 1), x rising: up to the lightest colour that matters it is the model's, from there straight to white.
using DngTone = std::vector<std::pair<double, double>>;

/// How one model is written as ForwardMatrix, table and tone. The profile works on camera RGB balanced so
/// that its smallest multiplier is 1, without exposure scale; `level` is what the model's own balanced RGB is
/// over that.
struct ProfileColor
{
    Matrix3 forwardMatrix;
    HueSatMap map;
    DngTone tone; ///< none: straight
    double level = 1;
    Agreement agreement; ///< with the model, over a lattice of surface colours and those that matter
};

/// The smallest of a few tables whose error stays below 0.3 over all but 2 % of the lattice and on each of
/// the `colours` (camera RGB that matter, a chart's), else the largest. No table for a linear model. `size`,
/// where it has a table, gives the size instead (a profile's lights share one).
[[nodiscard]] ProfileColor profileColorOf(const ColorModel &model, const std::vector<CameraRgb> &colours = {},
                                          const HueSatMap &size = {});

/// What a raw converter makes of it, by the specification: balanced camera RGB (see above) → XYZ D50.
[[nodiscard]] Xyz appliedProfile(const ProfileColor &profile, const Vector3 &balanced);

} // namespace wavechroma
