#pragma once

namespace wavechroma {

/// The limits that the capture checks hold a frame to. The defaults are the ordinary sheet
/// (data/tolerances/ordinary.json).
struct CaptureLimits
{
    double leastMatch = 0.90;    ///< colour fit 0…1, see measure/identify.h
    double clippedShare = 0.01;  ///< of a patch's pixels
    double exposureStops = 1.0;  ///< either side of the aim
    double mostUnderStops = 3.0; ///< further under than this, the frame is not to be used
    double meanError = 0.01;     ///< relative standard error of a patch's weakest channel
    double exposureAim =
        0.70; ///< the lightest neutral's strongest channel, of saturation: half a stop below it
    double unevenness = 0.10; ///< darkest to lightest corner of the chart
    double mostUneven = 0.40; ///< further off than this, the frame is not to be used
    double shadow = 0.2;      ///< stops that one side of an edge of light is darker
    double deepShadow = 0.4;  ///< further off than this, the frame is not to be used
    double glare = 0.02;      ///< brightening of one patch, share of a perfect diffuser
    double flare = 0.015;     ///< veil over everything, the same
    double mostFlare = 0.08;  ///< further off than this, the frame is not to be used
    double misfit = 0.30;     ///< relative, of one patch; the poorest sensors reach 0.25 on a clean chart
    double blurPixels = 2.2;  ///< standard deviation
    double noise = 0.08;      ///< relative, of a pixel in the middle grey
    bool operator==(const CaptureLimits &) const = default;
};

} // namespace wavechroma
