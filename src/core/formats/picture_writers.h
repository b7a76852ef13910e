#pragma once
#include "core/formats/picture_file.h"

/// The formats of picture_file.h; not for other folders.
namespace wavechroma {

[[nodiscard]] Result<std::unique_ptr<PictureFile>> tiffFile(GrowingFile file, const PictureFacts &facts,
                                                            Bytes profile);
[[nodiscard]] Result<std::unique_ptr<PictureFile>> pngFile(GrowingFile file, const PictureFacts &facts,
                                                           Bytes profile);
[[nodiscard]] Result<std::unique_ptr<PictureFile>> jpegFile(GrowingFile file, const PictureFacts &facts,
                                                            Bytes profile);

} // namespace wavechroma
