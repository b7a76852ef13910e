#pragma once
#include "core/chart/chart_geometry.h"
#include "core/raw/overview.h"

#include <opencv2/core/mat.hpp>
#include <vector>

namespace wavechroma::measure {

/// A flat region shaped like a parallelogram: it may be a patch. Coordinates are those of the overview it
/// came from.
struct Candidate
{
    PixelPoint centre;
    double area = 0;
    double sxx = 0, sxy = 0, syy = 0; ///< second central moments
};

/// What counts as flat.
struct FlatRule
{
    int threshold = 12;    ///< of 255
    bool smoothed = false; ///< take means over 3 × 3 first, for noisy frames
    int median = 0;        ///< 3 or 5: take medians over a square of that side first, for very noisy frames
};

/// Flat regions of an overview. Each channel is scaled to its own bright end, so that the light's colour does
/// not matter, and taken to its square root, where shot noise is even. A pixel is flat when its 3 × 3
/// neighbourhood spans less than the rule's threshold in every channel; connected flat pixels form a region.
/// A region is kept when its area is within a few per cent of 12 √det(moments), which holds for
/// parallelograms and no other common shape: an ellipse has 4π, a triangle 6 √3.
[[nodiscard]] std::vector<Candidate> patchCandidates(const Overview &overview, const FlatRule &rule);

/// The connected flat regions themselves: 32-bit labels of the overview's size, 0 where it is not flat.
[[nodiscard]] cv::Mat flatRegions(const Overview &overview, const FlatRule &rule);

/// A copy at half the size.
[[nodiscard]] Overview halved(const Overview &overview);

} // namespace wavechroma::measure
