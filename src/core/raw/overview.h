#pragma once
#include "core/raw/raw_frame.h"

#include <cstdint>
#include <vector>

namespace wavechroma {

/// A small camera RGB picture of the whole frame: means over blocks of `block` × `block` pixels, no white
/// balance.
struct Overview
{
    int width = 0, height = 0, block = 1;
    std::vector<float> rgb;       ///< interleaved; 0 is black, 1 is saturation
    std::vector<uint8_t> clipped; ///< per pixel, 1 where any sample of the block was at saturation
};
/// `block` is rounded up to a multiple of the mosaic's period. Blocks cut by the frame's edge are left out.
[[nodiscard]] Overview overviewOf(const RawFrame &frame, int block);
/// A part of the frame; x0 and y0 are rounded down to the mosaic's period.
struct PixelArea
{
    int x = 0, y = 0, width = 0, height = 0;
};
[[nodiscard]] Overview overviewOf(const RawFrame &frame, int block, PixelArea &area);
/// The smallest block that is meaningful: 1 for pictures, the mosaic's period otherwise.
[[nodiscard]] int smallestBlock(const RawFrame &frame);

} // namespace wavechroma
