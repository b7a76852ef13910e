#pragma once
#include "core/chart/chart_geometry.h"
#include "core/raw/overview.h"

namespace wavechroma {

/// The place in another frame of what lies at a place of one frame of the same size and view: normalised
/// cross-correlation (Lewis 1995) of what surrounds it, within a fifth of the frame, on small pictures of
/// both. `radius` and places in frame pixels. Nothing where it is not to be recognised.
struct Followed
{
    PixelPoint place;
    double likeness = 0; ///< 0…1
};
[[nodiscard]] std::optional<Followed> followed(const Overview &from, const Overview &to,
                                               const PixelPoint &place, double radius);

} // namespace wavechroma
