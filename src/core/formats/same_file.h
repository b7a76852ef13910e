#pragma once
#include "core/formats/whole_file.h"
#include "core/raw/picture_codes.h"

#include <optional>
#include <span>
#include <string>

namespace wavechroma {

/// A picture's file again with other codes: format, bits, profile (to the byte), EXIF, XMP, IPTC and other
/// metadata as in `source`, and JPEG's own tables and sampling. What shows the colours before goes:
/// thumbnails, previews, layers.
///
/// `codes`: three a pixel, row by row, of `picture`'s size and largest code. Nothing is left behind where it
/// fails. `replace`: an existing file is taken the place of; else it is refused.
[[nodiscard]] Result<Done> writeAgain(const std::filesystem::path &source, const PictureCodes &picture,
                                      std::span<const uint16_t> codes, const std::filesystem::path &file,
                                      bool replace);

/// Parts of it, not for other files: the bytes of the file; nothing where a library refuses.
namespace same_file {

[[nodiscard]] std::optional<Bytes> jpegOf(const Bytes &source, const PictureCodes &picture,
                                          std::span<const uint16_t> codes);
[[nodiscard]] std::optional<Bytes> pngOf(const Bytes &source, const PictureCodes &picture,
                                         std::span<const uint16_t> codes);
[[nodiscard]] std::optional<Bytes> tiffOf(const Bytes &source, const std::string &name,
                                          const PictureCodes &picture, std::span<const uint16_t> codes);
/// Image resources ("8BIM" records) without those that are small pictures.
[[nodiscard]] Bytes withoutSmallPictures(std::span<const uint8_t> resources);

} // namespace same_file

} // namespace wavechroma
