#pragma once
#include "core/base/result.h"
#include "core/raw/raw_frame.h"

#include <filesystem>

namespace wavechroma {

/// A rendered picture as its file has it, before its profile is asked what its codes stand for.
struct PictureCodes
{
    enum class Format { Tiff, Png, Jpeg } format = Format::Tiff;
    int width = 0, height = 0;                    ///< as the file has it, whatever its orientation flag says
    int maxCode = 255;                            ///< 255 or 65535
    std::shared_ptr<const LinearPicture> picture; ///< its codes, three a pixel; not its light
    FileColor color;                              ///< what its profile says, where that has curves
    std::string assumedSpace;                     ///< where it says nothing
};

/// Unusable for what is no RGB picture in TIFF, PNG or JPEG, and for one that has what would be lost on the
/// way back: transparency, other channels, more pages.
[[nodiscard]] Result<PictureCodes> pictureCodes(const std::filesystem::path &path,
                                                const std::string &assume = "srgb");

} // namespace wavechroma
