#pragma once
#include "core/raw/overview.h"
#include "core/raw/raw_frame.h"

namespace wavechroma {

/// A row or column inside a frame of `size`, mirrored about the first and the last, which keeps the filter's
/// pattern.
[[nodiscard]] int mirrored(int at, int size);

/// Does the frame stand on a Bayer mosaic: one red, two greens on a diagonal, one blue?
[[nodiscard]] bool hasBayerMosaic(const RawFrame &frame);

/// Samples of defective photosites, told from light by standing alone.
///
/// A lens spreads even a point over the photosites beside the one it falls on, so light shows in their
/// colours as well. A sample is taken for a defect where it lies beyond all eight of its colour around it
/// (two photosites away) by a quarter of the brightest of them and 1.5 % of saturation (below: by half of the
/// darkest and as much), and its four neighbours of other colours, compared with theirs, show less than a
/// sixteenth of it. The mean of those two opposite ones of its colour that differ least takes its place. Two
/// defects of one colour side by side stay, and some within texture as fine as they are; a point of light of
/// one pure colour that no other filter lets through would go.
///
/// Works row by row on the frame alone, so parts of a picture fit together wherever they begin.
class LoneSamples
{
public:
    /// A Bayer mosaic of `width` × `height`, which must outlive it.
    LoneSamples(const Mosaic &mosaic, int width, int height);

    /// Codes from…to − 1 of row y with defects put right: the frame's own where there are none. Valid until
    /// the next call.
    const uint16_t *row(int y, int from, int to);

private:
    [[nodiscard]] bool isDefect(int x, int y) const;
    [[nodiscard]] uint16_t between(int x, int y) const;
    void mend(int x, int y, int from);

    const Mosaic &m_mosaic;
    int m_width, m_height;
    std::vector<uint16_t> m_marks, m_row; ///< where to look closer; the row put right
    bool m_isMended = false;
};

/// Returns overviewOf() for people to look at: samples of defective photosites are put right first where
/// blocks are small enough for one to show.
[[nodiscard]] Overview seenOverviewOf(const RawFrame &frame, int block);

} // namespace wavechroma
