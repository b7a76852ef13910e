#include "core/formats/picture_file.h"

#include "core/formats/picture_writers.h"

#include <array>

namespace wavechroma {

namespace {

struct Format
{
    PictureFormat format;
    std::string_view id;
    const char *extension;
};
constexpr std::array<Format, 3> kFormats{{{PictureFormat::Tiff16, "tiff16", ".tif"},
                                          {PictureFormat::Png16, "png16", ".png"},
                                          {PictureFormat::Jpeg, "jpeg", ".jpg"}}};

} // namespace

const char *extensionOf(PictureFormat format)
{
    return kFormats[size_t(format)].extension;
}

Result<std::unique_ptr<PictureFile>> PictureFile::begin(const std::filesystem::path &file,
                                                        const PictureFacts &facts, bool replace)
{
    if (facts.format == PictureFormat::Jpeg && (facts.width > 65500 || facts.height > 65500))
        return unusable("{file}: a JPEG picture holds at most 65500 pixels a side",
                        {{"file", file.string()}});
    auto profile = iccProfileOf(facts.space);
    if (!profile)
        return profile.error();
    auto growing = GrowingFile::begin(file, replace);
    if (!growing)
        return growing.error();
    switch (facts.format) {
    case PictureFormat::Tiff16:
        return tiffFile(std::move(*growing), facts, std::move(*profile));
    case PictureFormat::Png16:
        return pngFile(std::move(*growing), facts, std::move(*profile));
    default:
        return jpegFile(std::move(*growing), facts, std::move(*profile));
    }
}

} // namespace wavechroma
