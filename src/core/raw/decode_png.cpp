#include "core/raw/decoders.h"

#include <cstring>
#include <png.h>

namespace wavechroma::raw {

namespace {

struct PngSource
{
    std::span<const uint8_t> bytes;
    size_t at = 0;
    char message[200] = "is damaged";
};

void readBytes(png_structp png, png_bytep target, size_t count)
{
    auto *source = static_cast<PngSource *>(png_get_io_ptr(png));
    if (count > source->bytes.size() - source->at)
        png_error(png, "ends too early");
    std::memcpy(target, source->bytes.data() + source->at, count);
    source->at += count;
}

void onError(png_structp png, png_const_charp message)
{
    auto *source = static_cast<PngSource *>(png_get_error_ptr(png));
    std::strncpy(source->message, message, sizeof source->message - 1);
    png_longjmp(png, 1);
}

void onWarning(png_structp, png_const_charp) {}

/// libpng leaves through longjmp, so this function keeps no object with a destructor.
bool decodeInto(png_structp png, png_infop info, PngSource &source, CodedPicture &out,
                std::vector<uint8_t> &data, std::vector<png_bytep> &rows)
{
    if (setjmp(png_jmpbuf(png)))
        return false;
    png_set_read_fn(png, &source, readBytes);
    png_set_user_limits(png, 65000, 65000);
    png_read_info(png, info);
    out.width = int(png_get_image_width(png, info));
    out.height = int(png_get_image_height(png, info));
    if (size_t(out.width) * size_t(out.height) > kMostPixels)
        png_error(png, "is too large");
    const double bits = double(png_get_bit_depth(png, info)) * png_get_channels(png, info);
    if (!canHold(source.bytes.size(), double(out.width) * out.height * bits / 8, 1100)) // deflate does 1032
        png_error(png, "says that it has more pixels than its size can hold");
    png_set_expand(png);
    png_set_strip_alpha(png);
    const int passes = png_set_interlace_handling(png);
    png_read_update_info(png, info);
    out.channels = png_get_channels(png, info);
    const bool wide = png_get_bit_depth(png, info) == 16;
    out.maxCode = wide ? 65535 : 255;
    const size_t rowBytes = png_get_rowbytes(png, info);
    data.resize(rowBytes * size_t(out.height));
    rows.resize(size_t(out.height));
    for (size_t y = 0; y < rows.size(); ++y)
        rows[y] = data.data() + rowBytes * y;
    (void)passes;
    png_read_image(png, rows.data());
    png_read_end(png, nullptr);
    png_charp iccName = nullptr;
    png_bytep icc = nullptr;
    png_uint_32 iccSize = 0;
    int compression = 0;
    if (png_get_iCCP(png, info, &iccName, &compression, &icc, &iccSize))
        out.iccProfile.assign(icc, icc + iccSize);
    int intent = 0;
    out.saysSrgb = png_get_sRGB(png, info, &intent) != 0;
    const size_t count = size_t(out.width) * size_t(out.channels) * size_t(out.height);
    out.codes.resize(count);
    for (size_t i = 0; i < count; ++i)
        out.codes[i] = wide ? uint16_t(data[2 * i] << 8 | data[2 * i + 1]) : data[i];
    return true;
}

} // namespace

Result<CodedPicture> decodePng(std::span<const uint8_t> bytes, const std::string &name)
{
    PngSource source{bytes};
    png_structp png = png_create_read_struct(PNG_LIBPNG_VER_STRING, &source, onError, onWarning);
    png_infop info = png_create_info_struct(png);
    CodedPicture picture;
    std::vector<uint8_t> data;
    std::vector<png_bytep> rows;
    const bool fine = decodeInto(png, info, source, picture, data, rows);
    png_destroy_read_struct(&png, &info, nullptr);
    if (!fine)
        return unusable("{file}: {why}", {{"file", name}, {"why", source.message}});
    return picture;
}

} // namespace wavechroma::raw
