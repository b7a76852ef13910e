#pragma once
#include "core/chart/chart_geometry.h"
#include "core/raw/overview.h"
#include "core/render/finish.h"

namespace wavechroma {

/// Parts of a frame with the lens' radial distortion taken out (see LensShape), by Catmull and Rom's cubic
/// (1974) in linear light. The middle keeps its size; where the lens drew corners in (pincushion) all grows a
/// little, so that no corner stays empty. A distortion of 0 leaves all as it is.
class StraightPixels
{
public:
    /// |distortion| up to kMostDistortion.
    StraightPixels(const RawFrame &frame, const Vector3 &gains, const Finish &finish, double distortion);
    void read(const PixelArea &area, const PixelRowUse &use);

private:
    [[nodiscard]] PixelPoint sourceOf(double x, double y) const; ///< both in frame pixels
    [[nodiscard]] PixelArea sourceAreaOf(const PixelArea &area) const;
    /// Interpolates from the source's area at a place of the frame.
    void interpolate(const PixelArea &from, const PixelPoint &place, float *const rgb[3]) const;

    const RawFrame &m_frame;
    FinishedPixels m_pixels;
    LensShape m_lens;
    double m_shrink = 1; ///< of places, towards the middle
    RgbRows m_source;
    std::vector<float> m_rows[3];
};
/// Returns how much larger straightened pictures are.
[[nodiscard]] double enlargementBy(double distortion);

} // namespace wavechroma
