#pragma once
#include "core/raw/decoders.h"

/// A decoded frame as bytes, for its way from one process to another; samples go beside it, in memory that
/// both have. CBOR (RFC 8949). Not for other folders.
namespace wavechroma::raw {

inline constexpr size_t kMostFacts = 8 << 20; ///< bytes: three tables of light are 0.8 MB, a map of gains 1.2

struct FrameMessage
{
    std::vector<uint8_t> facts; ///< all but samples; or why there is no frame
    Samples samples;            ///< empty where they lie in the file, or where there is no frame
};

/// `file`: what was decoded.
[[nodiscard]] FrameMessage messageOf(const Result<RawFrame> &frame, std::span<const uint8_t> file);

/// Back again; `file` is kept where samples lie in it. Whoever sent it may have been taken over by the file
/// that it read: nothing in it is believed that would have this process read what is not there. Nothing where
/// it cannot be.
[[nodiscard]] std::optional<Result<RawFrame>> frameOf(const FrameMessage &message,
                                                      const std::shared_ptr<const MappedFile> &file);

} // namespace wavechroma::raw
