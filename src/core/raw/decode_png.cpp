#include "core/base/result.h"
#include "core/base/said.h"
#include "core/raw/decoders.h"

#include <bit>
#include <cmath>
#include <cstring>
#include <png.h>
#include <span>

namespace wavechroma::raw {

namespace {

struct PngSource
{
    const MappedFile &file;
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
    source->file.passed(source->at);
}

void onError(png_structp png, png_const_charp message)
{
    auto *source = static_cast<PngSource *>(png_get_error_ptr(png));
    std::strncpy(source->message, message, sizeof source->message - 1);
    png_longjmp(png, 1);
}

constexpr png_alloc_size_t kMostChunk = 32 << 20; ///< a profile, unpacked

void onWarning(png_structp, png_const_charp) {}

/// Bytes that stand in the second half of each row's place become codes, from the front on.
void widen(std::span<uint16_t> row)
{
    const auto *bytes = reinterpret_cast<const uint8_t *>(row.data()) + row.size();
    for (size_t i = 0; i < row.size(); ++i)
        row[i] = bytes[i];
}

/// Primaries by their code of ITU-T H.273, table 2; null for those that no still picture has.
const RgbSpace *primariesOf(int code)
{
    static const RgbSpace bt2020{"bt2020",       "BT.2020",        {0.708, 0.292},  {0.170, 0.797},
                                 {0.131, 0.046}, {0.3127, 0.3290}, Transfer::Linear};
    static const RgbSpace p3 = *rgbSpaceFromId("display-p3");
    return code == 1 ? &srgb() : code == 9 ? &bt2020 : code == 12 ? &p3 : nullptr;
}

/// The chunk cICP (Portable Network Graphics, third edition, 11.3.2.6), whose codes are those of H.273; a
/// curve that no picture of light has (PQ, HLG, video) stops the reader.
void takeCicp(png_structp png, const png_unknown_chunk &chunk, std::optional<CodedSpace> &out)
{
    constexpr int kGamma22 = 4, kGamma28 = 5, kLinear = 8, kSrgb = 13;
    const auto *primaries = chunk.size == 4 ? primariesOf(chunk.data[0]) : nullptr;
    const int curve = chunk.size == 4 ? chunk.data[1] : 0;
    const bool isKnown = curve == kGamma22 || curve == kGamma28 || curve == kLinear || curve == kSrgb;
    if (!primaries || !isKnown || chunk.data[2] != 0 || chunk.data[3] != 1)
        png_error(png, words::said("its chunk cICP names a coding that is not supported"));
    out = CodedSpace{*primaries};
    out->space.transfer = curve == kLinear ? Transfer::Linear : Transfer::Srgb;
    out->power = curve == kGamma22 ? 2.2 : curve == kGamma28 ? 2.8 : 0;
}

/// By the chunks that name a space, in their order of precedence (PNG, third edition, 4.3): cICP, iCCP, sRGB,
/// then gAMA and cHRM.
void takeSpace(png_structp png, png_infop info, CodedPicture &out)
{
    png_unknown_chunkp chunks = nullptr;
    const int count = png_get_unknown_chunks(png, info, &chunks);
    for (int i = 0; i < count; ++i)
        if (std::memcmp(chunks[i].name, "cICP", 4) == 0) {
            takeCicp(png, chunks[i], out.space);
            return;
        }
    png_charp iccName = nullptr;
    png_bytep icc = nullptr;
    png_uint_32 iccSize = 0;
    int compression = 0, intent = 0;
    if (png_get_iCCP(png, info, &iccName, &compression, &icc, &iccSize)) {
        out.iccProfile.assign(icc, icc + iccSize);
        return;
    }
    if (png_get_sRGB(png, info, &intent)) {
        out.space = CodedSpace{srgb()};
        return;
    }
    double gamma = 0, wx = 0, wy = 0, rx = 0, ry = 0, gx = 0, gy = 0, bx = 0, by = 0;
    const bool hasGamma = png_get_gAMA(png, info, &gamma) && gamma > 0,
               hasPrimaries = png_get_cHRM(png, info, &wx, &wy, &rx, &ry, &gx, &gy, &bx, &by);
    if (!hasGamma && !hasPrimaries)
        return;
    out.space = CodedSpace{srgb(), hasGamma ? 1 / gamma : 0};
    if (hasPrimaries) {
        out.space->space = {"png", "PNG", {rx, ry}, {gx, gy}, {bx, by}, {wx, wy}, Transfer::Srgb};
        const double area = (gx - rx) * (by - ry) - (bx - rx) * (gy - ry);
        if (!(std::min({wy, ry, gy, by}) > 0) || std::abs(area) < 1e-3)
            png_error(png, words::said("its chunk cHRM names primaries that span no colours"));
    }
}

/// libpng leaves through longjmp, so this function keeps no object with a destructor.
bool decodeInto(png_structp png, png_infop info, PngSource &source, CodedPicture &out,
                std::vector<png_bytep> &rows)
{
    if (setjmp(png_jmpbuf(png)))
        return false;
    png_set_read_fn(png, &source, readBytes);
    png_set_user_limits(png, 65000, 65000);
    png_set_chunk_malloc_max(png, kMostChunk);
    constexpr png_byte kCicp[] = {'c', 'I', 'C', 'P', 0};
    png_set_keep_unknown_chunks(png, PNG_HANDLE_CHUNK_ALWAYS, kCicp, 1);
    png_read_info(png, info);
    out.width = int(png_get_image_width(png, info));
    out.height = int(png_get_image_height(png, info));
    if (size_t(out.width) * size_t(out.height) > kMostPixels)
        png_error(png, "is too large");
    const double bits = double(png_get_bit_depth(png, info)) * png_get_channels(png, info);
    if (!canHold(source.bytes.size(), double(out.width) * out.height * bits / 8, 1100)) // deflate does 1032
        png_error(png, words::said("claims more pixels than its size can hold"));
    if ((png_get_color_type(png, info) & PNG_COLOR_MASK_ALPHA) || png_get_valid(png, info, PNG_INFO_tRNS))
        out.leaves = words::said("transparency or another channel");
    png_set_expand(png);
    png_set_strip_alpha(png);
    if constexpr (std::endian::native == std::endian::little)
        png_set_swap(png);
    png_set_interlace_handling(png);
    png_read_update_info(png, info);
    out.channels = png_get_channels(png, info);
    const bool wide = png_get_bit_depth(png, info) == 16;
    out.maxCode = wide ? 65535 : 255;
    const size_t rowSize = size_t(out.width) * size_t(out.channels);
    if (png_get_rowbytes(png, info) != rowSize * (wide ? 2 : 1))
        png_error(png, words::said("has rows of another size than it claims"));
    out.codes = Samples(rowSize * size_t(out.height));
    rows.resize(size_t(out.height));
    for (size_t y = 0; y < rows.size(); ++y) {
        auto *const row = reinterpret_cast<png_bytep>(out.codes.data() + rowSize * y);
        rows[y] = wide ? row : row + rowSize;
    }
    png_read_image(png, rows.data());
    png_read_end(png, nullptr);
    takeSpace(png, info, out);
    if (!wide)
        for (size_t y = 0; y < rows.size(); ++y)
            widen(std::span(out.codes.data(), out.codes.size()).subspan(rowSize * y, rowSize));
    return true;
}

} // namespace

Result<CodedPicture> decodePng(const MappedFile &file, const std::string &name)
{
    PngSource source{file, file.bytes()};
    png_structp png = png_create_read_struct(PNG_LIBPNG_VER_STRING, &source, onError, onWarning);
    png_infop info = png_create_info_struct(png);
    CodedPicture picture;
    std::vector<png_bytep> rows;
    const bool fine = decodeInto(png, info, source, picture, rows);
    png_destroy_read_struct(&png, &info, nullptr);
    if (!fine)
        return unusable("{file}: {why}", {{"file", name}, {"why", source.message}});
    return picture;
}

} // namespace wavechroma::raw
