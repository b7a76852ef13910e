#pragma once
#include "core/chart/chart_geometry.h"
#include "core/raw/overview.h"

#include <map>
#include <opencv2/core/mat.hpp>
#include <utility>
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

/// Flat regions of an overview, which has to outlive this. Each channel is scaled to its own bright end, so
/// that the light's colour does not matter, and taken to its square root, where shot noise is even. A pixel
/// is flat when its 3 × 3 neighbourhood spans less than the rule's threshold in every channel; connected flat
/// pixels form a region. What rules have in common is computed once. For one thread.
class FlatRegions
{
public:
    explicit FlatRegions(const Overview &overview) : m_overview(overview) {}

    struct Labels
    {
        cv::Mat of;    ///< 32 bits, of the overview's size: 0 where it is not flat, else its region's number
        int count = 0; ///< with that of what is not flat
    };
    [[nodiscard]] Labels labels(const FlatRule &rule);
    /// Regions whose area is within a few per cent of 12 √det(moments), which holds for parallelograms and no
    /// other common shape: an ellipse has 4π, a triangle 6 √3.
    [[nodiscard]] std::vector<Candidate> candidates(const FlatRule &rule);

private:
    [[nodiscard]] const cv::Mat &spans(const FlatRule &rule);

    const Overview &m_overview;
    cv::Mat m_codes; ///< once they are asked for
    std::map<std::pair<int, bool>, cv::Mat>
        m_spans; ///< of neighbourhoods, 8 bits, by `median` and `smoothed`
};

/// A copy at half the size.
[[nodiscard]] Overview halved(const Overview &overview);

} // namespace wavechroma::measure
