#include "core/formats/same_file.h"

#include <bit>
#include <cstdio>
#include <cstring>
#include <png.h>
#include <utility>

namespace wavechroma::same_file {

namespace {

/// A chunk with its length, name and checksum (PNG, third edition, 5.3).
using Chunk = std::span<const uint8_t>;

std::string_view nameOf(const Chunk &chunk)
{
    return {reinterpret_cast<const char *>(chunk.data()) + 4, 4};
}

std::vector<Chunk> chunksOf(const Bytes &file)
{
    std::vector<Chunk> out;
    constexpr size_t kSignature = 8, kAround = 12;
    for (size_t at = kSignature; at + kAround <= file.size();) {
        const uint8_t *b = file.data() + at;
        const size_t length = size_t(b[0]) << 24 | size_t(b[1]) << 16 | size_t(b[2]) << 8 | b[3];
        if (length > file.size() - at - kAround)
            break;
        out.emplace_back(b, length + kAround);
        at += length + kAround;
    }
    return out;
}

/// Says nothing of the coding of pixels or of another picture: goes along as it is.
bool goesAlong(const Chunk &chunk)
{
    const auto name = nameOf(chunk);
    const bool isCritical = (uint8_t(name[0]) & 0x20U) == 0;
    for (const char *other : {"tRNS", "hIST", "bKGD", "sPLT", "acTL", "fcTL", "fdAT"})
        if (name == other)
            return false;
    return !isCritical;
}

void append(png_structp png, png_bytep data, size_t size)
{
    auto &out = *static_cast<Bytes *>(png_get_io_ptr(png));
    out.insert(out.end(), data, data + size);
}

/// The library's faults jump back here; nothing with a destructor lies between.
bool encode(png_structp png, png_infop info, Bytes &out, const PictureCodes &picture, const uint16_t *codes,
            std::vector<uint8_t> &line)
{
    if (setjmp(png_jmpbuf(png)))
        return false;
    const bool isWide = picture.maxCode > 255;
    png_set_write_fn(png, &out, append, [](png_structp) {});
    png_set_user_limits(png, 0x7fffffff, 0x7fffffff);
    png_set_compression_level(png, 4);
    png_set_IHDR(png, info, png_uint_32(picture.width), png_uint_32(picture.height), isWide ? 16 : 8,
                 PNG_COLOR_TYPE_RGB, PNG_INTERLACE_NONE, PNG_COMPRESSION_TYPE_DEFAULT,
                 PNG_FILTER_TYPE_DEFAULT);
    png_write_info(png, info);
    if (isWide && std::endian::native == std::endian::little)
        png_set_swap(png);
    const size_t n = size_t(picture.width) * 3;
    for (int y = 0; y < picture.height; ++y) {
        const uint16_t *const row = codes + size_t(y) * n;
        if (isWide)
            std::memcpy(line.data(), row, 2 * n);
        else
            for (size_t i = 0; i < n; ++i)
                line[i] = uint8_t(row[i]);
        png_write_row(png, line.data());
    }
    png_write_end(png, nullptr);
    return true;
}

} // namespace

std::optional<Bytes> pngOf(const Bytes &source, const PictureCodes &picture, std::span<const uint16_t> codes)
{
    png_structp png = png_create_write_struct(
        PNG_LIBPNG_VER_STRING, nullptr, [](png_structp p, png_const_charp) { png_longjmp(p, 1); },
        [](png_structp, png_const_charp) {});
    png_infop info = png ? png_create_info_struct(png) : nullptr;
    Bytes plain;
    std::vector<uint8_t> line(size_t(picture.width) * 6);
    const bool isEncoded = info && encode(png, info, plain, picture, codes.data(), line);
    png_destroy_write_struct(&png, &info);
    if (!isEncoded)
        return std::nullopt;
    // The source's own chunks stand on the side of the pixels where they stood.
    Bytes out(plain.begin(), plain.begin() + 8);
    const auto put = [&](const Chunk &chunk) { out.insert(out.end(), chunk.begin(), chunk.end()); };
    const auto own = chunksOf(plain), theirs = chunksOf(source);
    size_t pixels = 0;
    while (pixels < theirs.size() && nameOf(theirs[pixels]) != "IDAT")
        ++pixels;
    for (const auto &chunk : own) {
        const bool isLast = nameOf(chunk) == "IEND";
        for (size_t i = pixels; isLast && i < theirs.size(); ++i)
            if (goesAlong(theirs[i]))
                put(theirs[i]);
        put(chunk);
        for (size_t i = 0; nameOf(chunk) == "IHDR" && i < pixels; ++i)
            if (goesAlong(theirs[i]))
                put(theirs[i]);
    }
    return out;
}

} // namespace wavechroma::same_file
