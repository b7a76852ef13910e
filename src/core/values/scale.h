#pragma once

namespace wavechroma {

inline constexpr double kMmPerInch = 25.4;

/// How large things come out in a frame.
struct Scale
{
    double pixelsPerMm = 0; ///< over the whole chart: root of its area in pixels over its area in mm
    double lean = 0; ///< how much larger one edge of the chart comes out than the edge across from it, 0…:
                     ///< perspective of a camera that does not look at it squarely; a copy needs it near 0
    double distortion = 0; ///< of the lens, see LensShape

    [[nodiscard]] double pixelsPerInch() const { return pixelsPerMm * kMmPerInch; }
};

/// Whether a scale, the lens and the lean are within `tolerance`. An intended figure of 0 is none.
struct ScaleVerdict
{
    Scale scale;
    double intendedPpi = 0;
    bool good = true;
    double error = 0; ///< relative, signed; 0 without an intended figure
    bool isBent = false, isLeaning = false;
};

} // namespace wavechroma
