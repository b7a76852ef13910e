#pragma once
#include "core/formats/whole_file.h"

#include <optional>
#include <span>

namespace wavechroma {

/// A JPEG of sRGB codes, 0xRRGGBB each, row by row. Nothing for a size that JPEG has not (1 to 65 500 a
/// side).
[[nodiscard]] std::optional<Bytes> smallJpegOf(std::span<const uint32_t> rgb, int width, int height,
                                               int quality = 88);

} // namespace wavechroma
