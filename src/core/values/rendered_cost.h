#pragma once

namespace wavechroma {

/// What balancing a rendered picture costs, which a raw file would have borne.
struct RenderedCost
{
    double clips = 0;      ///< share of the picture in which a channel goes over white that did not before
    double tinted = 0;     ///< share that was white in a channel already, and takes the shift's colour now
    double empties = 0;    ///< share with a channel at or near 0, which no multiplier brings back
    double stops = 0;      ///< largest multiplier against the smallest
    bool tooLarge = false; ///< over half a stop between channels, or 2 % of the picture newly broken
};

} // namespace wavechroma
