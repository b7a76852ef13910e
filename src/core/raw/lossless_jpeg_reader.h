#pragma once
#include <cstdint>
#include <optional>
#include <span>

namespace wavechroma::raw {

/// The frame header of a lossless JPEG stream as DNG holds one a strip or tile (ITU-T T.81, process 14).
struct LosslessJpegHeader
{
    int width = 0, height = 0; ///< in samples of one component
    int components = 0;        ///< 1…4, lying beside each other in a row
    int bits = 0;              ///< 2…16
};
/// What can be read here: Huffman coding, the left neighbour as prediction, no point transform, no restarts.
/// Nothing for any other stream, or for none.
[[nodiscard]] std::optional<LosslessJpegHeader> losslessJpegHeaderOf(std::span<const uint8_t> stream);

/// Unpacks the first `width` samples of the first `height` rows, components side by side, to rows that are
/// `stride` apart. `width` is at most the header's width × components, `height` at most its height. False
/// where the stream ends early or holds a value of more bits than it says; what was read until then is there.
[[nodiscard]] bool unpackLosslessJpeg(std::span<const uint8_t> stream, uint16_t *out, ptrdiff_t stride,
                                      int width, int height);

/// Returns how many bits the samples of a stream were shifted down before they were packed (T.81, "Al" of
/// the scan header). −1 where there is no scan.
[[nodiscard]] int losslessJpegPointTransform(std::span<const uint8_t> stream);

} // namespace wavechroma::raw
