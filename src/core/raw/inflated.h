#pragma once
#include "core/raw/dng_layout.h"

#include <vector>

namespace wavechroma::raw {

/// How samples of a row are told by the ones before (TIFF 6.0, section 14; TIFF Technical Note 3; Digital
/// Negative Specification 1.7.1.0, "Predictor").
struct DngPredictor
{
    enum class Kind { None, Whole, Float } kind = Kind::None;
    int distance = 1; ///< in pixels: 1, 2 or 4
};
/// Returns nothing where the predictor is unknown, or does not fit the samples.
[[nodiscard]] std::optional<DngPredictor> predictorOf(const DngLayout &layout);

struct InflatedPiece
{
    std::vector<uint8_t> bytes; ///< rows of samples as in a plain piece
    ByteOrder order;            ///< of these bytes
};
/// A piece of compression 8 (zlib, RFC 1950), with its predictor undone. Nothing where the stream is damaged
/// or shorter than the piece.
[[nodiscard]] std::optional<InflatedPiece> inflated(const DngPiece &piece, const DngLayout &layout,
                                                    const DngPredictor &predictor);

} // namespace wavechroma::raw
