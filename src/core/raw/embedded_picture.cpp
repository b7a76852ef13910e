#include "core/raw/embedded_picture.h"

#include "core/raw/reader_calls.h"

#include <libraw/libraw.h>

namespace wavechroma {

namespace {

Result<raw::CodedPicture> codedOf(const libraw_thumbnail_t &thumb, const std::string &name)
{
    const std::span<const uint8_t> bytes(reinterpret_cast<const uint8_t *>(thumb.thumb), thumb.tlength);
    if (thumb.tformat == LIBRAW_THUMBNAIL_JPEG)
        return raw::decodeJpeg(bytes, name);
    const size_t count = size_t(thumb.twidth) * thumb.theight * 3;
    if (thumb.tformat != LIBRAW_THUMBNAIL_BITMAP || count == 0 || count > bytes.size())
        return unusable("{file}: its embedded picture is in a format that is not supported",
                        {{"file", name}});
    raw::CodedPicture picture;
    picture.width = thumb.twidth;
    picture.height = thumb.theight;
    picture.channels = 3;
    picture.codes = Samples(count);
    std::copy_n(bytes.begin(), count, picture.codes.begin());
    return picture;
}

} // namespace

Result<RawFrame> raw::embeddedPictureHere(const MappedFile &file, const std::string &name)
{
    const auto none = [&] { return unusable("{file}: holds no embedded picture", {{"file", name}}); };
    try {
        LibRaw raw;
        const auto bytes = file.bytes();
        if (raw.open_buffer(const_cast<uint8_t *>(bytes.data()), bytes.size()) != LIBRAW_SUCCESS ||
            raw.unpack_thumb() != LIBRAW_SUCCESS || !raw.imgdata.thumbnail.thumb)
            return none();
        auto coded = codedOf(raw.imgdata.thumbnail, name);
        if (!coded)
            return coded.error();
        RawFrame frame;
        frame.width = coded->width;
        frame.height = coded->height;
        frame.rendered = true;
        auto linear = linearise(std::move(*coded), name, "srgb");
        if (!linear)
            return linear.error();
        frame.fileColor.xyzD50FromRendered = linear->xyzD50FromRgb;
        frame.fileColor.renderedCodes = linear->codes;
        frame.picture = std::make_shared<LinearPicture>(std::move(linear->picture));
        keepFinite(frame);
        return frame;
    } catch (...) { // the library's own types
        return none();
    }
}

Result<RawFrame> embeddedPicture(const std::filesystem::path &path)
{
    const auto file = raw::MappedFile::open(path);
    if (!file)
        return file.error();
    const auto name = path.string();
    auto elsewhere = raw::readElsewhere(raw::ReaderStep::EmbeddedPicture, *file, name, {});
    auto picture = elsewhere ? std::move(*elsewhere) : raw::embeddedPictureHere(**file, name);
    if (picture)
        picture->path = name;
    return picture;
}

} // namespace wavechroma
