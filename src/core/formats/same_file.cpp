#include "core/formats/same_file.h"

#include <algorithm>
#include <cstdio>
#include <cstring>
#include <unistd.h>

namespace wavechroma {

namespace same_file {

/// One record of image resources: where it ends, and what it is; size 0 where there is none.
struct Resource
{
    size_t size = 0;
    int id = 0;
};

static Resource resourceAt(std::span<const uint8_t> b)
{
    constexpr size_t kHead = 6; // mark and id
    if (b.size() < kHead + 6 || std::memcmp(b.data(), "8BIM", 4) != 0)
        return {};
    const size_t name = (size_t(b[kHead]) + 2) & ~size_t(1); // a length, the text, even
    const size_t at = kHead + name;
    if (at + 4 > b.size())
        return {};
    const size_t length = size_t(b[at]) << 24 | size_t(b[at + 1]) << 16 | size_t(b[at + 2]) << 8 | b[at + 3];
    const size_t end = at + 4 + ((length + 1) & ~size_t(1));
    if (length > b.size())
        return {};
    return {std::min(end, b.size()), b[4] << 8 | b[5]};
}

Bytes withoutSmallPictures(std::span<const uint8_t> b)
{
    constexpr int kOldThumbnail = 1033, kThumbnail = 1036;
    Bytes out;
    while (!b.empty()) {
        const auto one = resourceAt(b);
        const size_t size = one.size ? one.size : b.size(); // whatever is no record stays
        if (one.id != kOldThumbnail && one.id != kThumbnail)
            out.insert(out.end(), b.begin(), b.begin() + ptrdiff_t(size));
        b = b.subspan(size);
    }
    return out;
}

} // namespace same_file

static Result<Done> written(GrowingFile file, const Bytes &bytes)
{
    std::FILE *stream = ::fdopen(file.descriptorOfItsOwn(), "wb");
    const bool isWritten = stream && std::fwrite(bytes.data(), 1, bytes.size(), stream) == bytes.size();
    return stream && std::fclose(stream) == 0 && isWritten ? file.commit() : file.failure();
}

Result<Done> writeAgain(const std::filesystem::path &source, const PictureCodes &picture,
                        std::span<const uint16_t> codes, const std::filesystem::path &file, bool replace)
{
    auto growing = GrowingFile::begin(file, replace);
    if (!growing)
        return growing.error();
    const auto bytes = readWhole(source, size_t(4) << 30);
    if (!bytes)
        return bytes.error();
    using Format = PictureCodes::Format;
    const auto made = picture.format == Format::Tiff
                          ? same_file::tiffOf(*bytes, source.string(), picture, codes)
                      : picture.format == Format::Jpeg ? same_file::jpegOf(*bytes, picture, codes)
                                                       : same_file::pngOf(*bytes, picture, codes);
    if (!made)
        return unusable("{file}: what it says beside its pixels cannot be kept, so it is not written again",
                        {{"file", source.string()}});
    return written(std::move(*growing), *made);
}

} // namespace wavechroma
