#pragma once
#include "core/raw/lone_samples.h"
#include "core/raw/raw_frame.h"
#include "core/render/demosaic.h"

#include <optional>

namespace wavechroma {

/// Rows of linear, balanced RGB: camera RGB × gains; 0 is black. Each channel lies apart.
struct RgbRows
{
    int width = 0, height = 0;
    std::vector<float> red, green, blue; ///< row by row
};

/// A part of a frame as RGB at every pixel. One object for each thread: it holds room to work in.
class FramePixels
{
public:
    /// `gains`: multipliers, which burnt areas are kept neutral by. The frame must outlive it, and stand on a
    /// Bayer mosaic or on RGB: see withoutOtherMosaic().
    FramePixels(const RawFrame &frame, const Vector3 &gains, int mostWidth, int mostHeight);

    /// The pixels of `area`, which lies within the frame and in the room asked for.
    ///
    /// Samples of defective photosites are put right before: see LoneSamples.
    ///
    /// Burnt samples: from 95 % of saturation on a channel is moved towards the largest of the three, all the
    /// way at 99 %. A neutral stays neutral and nothing gets darker, whichever channel burns first; a colour
    /// whose burnt channel is its largest stays as it is.
    void read(const PixelArea &area, RgbRows &out);

private:
    void fillSamples(const PixelArea &area);
    void fillPicture(const PixelArea &area, RgbRows &out) const;
    /// 25 over the saturation of a channel, balanced and evened, at the pixels of a row.
    void fillSteepness(const PixelArea &area, int y, size_t channel, float *out) const;

    const RawFrame &m_frame;
    Vector3 m_gains;
    std::optional<LoneSamples> m_codes;
    BayerDemosaic m_demosaic;
    int m_redX = 0, m_redY = 0;
};

/// A frame behind any other filter with the raw library's own demosaic in its place (read anew from the file:
/// see pictureByLibrary()); every other frame as it is.
[[nodiscard]] Result<RawFrame> withoutOtherMosaic(const RawFrame &frame);

} // namespace wavechroma
