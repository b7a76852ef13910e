#pragma once
#include <filesystem>

namespace wavechroma {

/// Is all of a picture file there that its own format says it has? For files that are still being written:
/// sizes alone do not tell, for a program may set a file's size before it writes.
enum class Extent {
    Whole,  ///< every strip, tile and embedded picture of a TIFF or DNG lies within it and holds something; a
            ///< JPEG ends with its end marker, a PNG with its last chunk
    Short,  ///< some of that is missing
    Unknown ///< another format, which does not say
};
/// Reads directories and a few bytes of each part, not the picture.
[[nodiscard]] Extent extentOf(const std::filesystem::path &file);

} // namespace wavechroma
