#pragma once
#include "core/chart/chart_geometry.h"
#include "core/raw/overview.h"
#include "core/render/finish.h"
#include "core/render/frame_cut.h"

namespace wavechroma {

/// Parts of a frame, or of a cut of it, with the lens' radial distortion taken out (see LensShape), by
/// Catmull and Rom's cubic (1974) in linear light. The middle keeps its size; where the lens drew corners in
/// (pincushion) all grows a little, so that no corner stays empty. A distortion of 0 leaves all as it is, and
/// a cut that is not turned then has the frame's own pixels.
class StraightPixels
{
public:
    /// |distortion| up to kMostDistortion.
    StraightPixels(const RawFrame &frame, const Vector3 &gains, const Finish &finish, double distortion,
                   const FrameCut &cut);
    /// `area`: of the cut.
    void read(const PixelArea &area, const PixelRowUse &use);

private:
    [[nodiscard]] PixelPoint sourceOf(double x, double y) const; ///< of a place of the cut
    [[nodiscard]] PixelArea sourceAreaOf(const PixelArea &area) const;
    /// Interpolates from the source's area at a place of the frame.
    void interpolate(const PixelArea &from, const PixelPoint &place, float *const rgb[3]) const;

    const RawFrame &m_frame;
    FinishedPixels m_pixels;
    LensShape m_lens;
    FrameCut m_cut;
    double m_shrink = 1; ///< of places, towards the middle
    RgbRows m_source;
    std::vector<float> m_rows[3];
};
/// Returns how much larger straightened pictures are.
[[nodiscard]] double enlargementBy(double distortion);

} // namespace wavechroma
