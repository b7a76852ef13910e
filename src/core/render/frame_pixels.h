#pragma once
#include "core/base/result.h"
#include "core/raw/lone_samples.h"
#include "core/raw/overview.h"
#include "core/raw/raw_frame.h"
#include "core/render/demosaic.h"

#include <functional>
#include <optional>

namespace wavechroma {

/// What is done with row y of a part: linear, balanced RGB, camera RGB × gains, 0 being black. The rows may
/// be changed, and are valid until it returns.
using PixelRowUse = std::function<void(int y, float *red, float *green, float *blue)>;

/// A part that is kept as a whole, each channel apart.
struct RgbRows
{
    int width = 0, height = 0;
    std::vector<float> red, green, blue; ///< row by row

    /// Makes room for an area and takes its rows.
    [[nodiscard]] PixelRowUse taking(const PixelArea &area);
};

/// A part of a frame as RGB at every pixel. One object for each thread: it holds room to work in.
class FramePixels
{
public:
    /// `gains`: multipliers, which clipped areas are kept neutral by. The frame must outlive it, and stand on
    /// a Bayer mosaic or on RGB: see withoutOtherMosaic().
    FramePixels(const RawFrame &frame, const Vector3 &gains);

    /// The pixels of `area`, which lies within the frame, row after row. What is kept of it is as wide as the
    /// area, whatever its height.
    ///
    /// Samples of defective photosites are put right before: see LoneSamples.
    ///
    /// Clipped samples: from 95 % of saturation on a channel is moved towards the largest of the three, all
    /// the way at 99 %. A neutral stays neutral and nothing gets darker, whichever channel is clipped first;
    /// a colour whose clipped channel is its largest stays as it is.
    void read(const PixelArea &area, const PixelRowUse &use);

private:
    /// Row y of the frame, mirrored beyond it, to where the demosaic takes it.
    void fillSamples(const PixelArea &area, int y);
    void fillPicture(const PixelArea &area, int y, float *const rgb[3]) const;
    /// 25 over the saturation of a channel, balanced and evened, at the pixels of a row.
    void fillSteepness(const PixelArea &area, int y);
    void readMosaic(const PixelArea &area, const PixelRowUse &use);
    void readPicture(const PixelArea &area, const PixelRowUse &use);
    void handOn(const PixelArea &area, int y, float *const rgb[3], const PixelRowUse &use);

    const RawFrame &m_frame;
    Vector3 m_gains;
    std::optional<LoneSamples> m_codes;
    BayerDemosaic m_demosaic;
    int m_redX = 0, m_redY = 0;
    std::vector<float> m_rows[3], m_steepness[3];
};

/// A frame behind any other filter with the raw library's own demosaic in its place (read anew from the file:
/// see pictureByLibrary()), or, where the library reads the file otherwise, with demosaicedByMeans(); every
/// other frame as it is.
[[nodiscard]] Result<RawFrame> withoutOtherMosaic(const RawFrame &frame);

} // namespace wavechroma
