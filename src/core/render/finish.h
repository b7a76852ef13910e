#pragma once
#include "core/raw/overview.h"
#include "core/render/frame_pixels.h"
#include "core/values/picture_settings.h"

namespace wavechroma {

/// What is done to pixels before they get their colour. All of it is off unless asked for.
struct Finish
{
    /// Sharpening: the blur that is undone, a standard deviation in frame pixels as the focus check has it,
    /// up to kMostEdgeSpread; 0: none.
    double edgeSpread = 0;
    bool calmColour = false; ///< colour noise is smoothed away
    Vector3 noise{};         ///< see noiseOf(): what both are held by
    [[nodiscard]] bool isNone() const { return edgeSpread == 0 && !calmColour; }
};

/// Noise of a frame's samples, a channel, as roots of balanced light (where photon noise is the same at every
/// level): from second differences of neighbours of one colour, the median of a block of 64 × 64, and of all
/// blocks the fifth that is plainest. 0 where there is no mosaic to tell by.
[[nodiscard]] Vector3 noiseOf(const RawFrame &frame, const Vector3 &gains);

/// Parts of a frame, finished. As with FramePixels, parts fit together to the last bit.
///
/// Colour noise: red and blue less green, as roots, become means over two rings of 5 × 5, near pixels that
/// look alike counting more (a bilateral filter, Tomasi and Manduchi 1998, with a Cauchy weight); green
/// stays. Sharpening: three steps of Van Cittert's (1931) iteration on green's roots against a Gaussian blur,
/// the difference added to all channels. Steps below four times the noise are left out smoothly, and no
/// pixel goes beyond its neighbourhood by more than a twentieth of the neighbourhood's range.
class FinishedPixels
{
public:
    FinishedPixels(const RawFrame &frame, const Vector3 &gains, const Finish &finish);
    void read(const PixelArea &area, const PixelRowUse &use);

private:
    void finish(const PixelArea &grown);
    void calm();
    void sharpen();

    const RawFrame &m_frame;
    Finish m_finish;
    FramePixels m_pixels;
    int m_margin = 0;
    RgbRows m_grown; ///< with the margin, later as roots: green, and red and blue less green
    std::vector<float> m_rows[3];
};

} // namespace wavechroma
