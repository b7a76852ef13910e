#include "core/formats/same_file.h"

#include <algorithm>
#include <array>
#include <cstdio>
#include <exiv2/exiv2.hpp>
#include <tiffio.h>

namespace wavechroma::same_file {

namespace {

constexpr int kRowsAStrip = 64;
constexpr uint16_t kResources = 34377;

struct CloseTiff
{
    void operator()(TIFF *tiff) const { TIFFClose(tiff); }
};
using Tiff = std::unique_ptr<TIFF, CloseTiff>;

/// Tags of the first directory that say how pixels lie in the file, stand elsewhere (profile, XMP, IPTC), or
/// hold the picture as it was (layers). TIFF 6.0 and its supplements.
bool isOfThePixels(uint16_t tag)
{
    constexpr std::array<uint16_t, 43> kTags{254, 255, 256, 257, 258, 259, 262, 263,   264,   265,  266,
                                             273, 277, 278, 279, 284, 292, 293, 297,   301,   317,  320,
                                             322, 323, 324, 325, 330, 338, 339, 340,   341,   347,  512,
                                             513, 514, 529, 530, 531, 532, 700, 33723, 34675, 37724};
    return std::find(kTags.begin(), kTags.end(), tag) != kTags.end();
}

bool writePixels(TIFF *to, TIFF *from, const PictureCodes &picture, std::span<const uint16_t> codes)
{
    const bool isWide = picture.maxCode > 255;
    uint16_t compression = COMPRESSION_NONE;
    TIFFGetFieldDefaulted(from, TIFFTAG_COMPRESSION, &compression);
    const bool isPacked = compression == COMPRESSION_LZW || compression == COMPRESSION_ADOBE_DEFLATE ||
                          compression == COMPRESSION_DEFLATE;
    TIFFSetField(to, TIFFTAG_IMAGEWIDTH, uint32_t(picture.width));
    TIFFSetField(to, TIFFTAG_IMAGELENGTH, uint32_t(picture.height));
    TIFFSetField(to, TIFFTAG_SAMPLESPERPIXEL, uint16_t(3));
    TIFFSetField(to, TIFFTAG_BITSPERSAMPLE, uint16_t(isWide ? 16 : 8));
    TIFFSetField(to, TIFFTAG_PHOTOMETRIC, uint16_t(PHOTOMETRIC_RGB));
    TIFFSetField(to, TIFFTAG_PLANARCONFIG, uint16_t(PLANARCONFIG_CONTIG));
    TIFFSetField(to, TIFFTAG_ROWSPERSTRIP, uint32_t(kRowsAStrip));
    TIFFSetField(to, TIFFTAG_COMPRESSION, isPacked ? compression : uint16_t(COMPRESSION_NONE));
    if (isPacked)
        TIFFSetField(to, TIFFTAG_PREDICTOR, uint16_t(PREDICTOR_HORIZONTAL));
    uint32_t size = 0;
    void *profile = nullptr;
    if (TIFFGetField(from, TIFFTAG_ICCPROFILE, &size, &profile) && profile)
        TIFFSetField(to, TIFFTAG_ICCPROFILE, size, profile);
    std::vector<uint8_t> line(size_t(TIFFScanlineSize(to)));
    const size_t n = size_t(picture.width) * 3;
    for (int y = 0; y < picture.height; ++y) {
        const auto row = codes.subspan(size_t(y) * n, n);
        if (isWide)
            std::copy_n(reinterpret_cast<const uint8_t *>(row.data()), 2 * n, line.begin());
        else
            std::transform(row.begin(), row.end(), line.begin(), [](uint16_t c) { return uint8_t(c); });
        if (TIFFWriteScanline(to, line.data(), uint32_t(y)) != 1)
            return false;
    }
    return TIFFFlush(to) == 1;
}

Exiv2::ExifData withFactsOf(const Exiv2::ExifData &source, Exiv2::ExifData to)
{
    for (const auto &fact : source) {
        const auto group = fact.groupName();
        const bool isOfSmallPicture =
            group == "Thumbnail" || group.starts_with("SubImage") ||
            (group.starts_with("Image") && group != "Image" && group != "ImageNumber");
        if (isOfSmallPicture || (group == "Image" && isOfThePixels(fact.tag())))
            continue;
        const Exiv2::ExifKey key(fact.key());
        if (const auto known = to.findKey(key); known != to.end())
            to.erase(known);
        if (group == "Image" && fact.tag() == kResources) {
            Bytes bytes(size_t(fact.size()));
            fact.copy(bytes.data(), Exiv2::bigEndian);
            const auto kept = withoutSmallPictures(bytes);
            Exiv2::DataValue value(kept.data(), long(kept.size()), Exiv2::invalidByteOrder,
                                   Exiv2::unsignedByte);
            to.add(key, &value);
            continue;
        }
        to.add(fact);
    }
    return to;
}

std::optional<Bytes> withFacts(const Bytes &source, const Bytes &file)
{
    try {
        auto from = Exiv2::ImageFactory::open(source.data(), long(source.size()));
        auto to = Exiv2::ImageFactory::open(file.data(), long(file.size()));
        from->readMetadata();
        to->readMetadata();
        to->setExifData(withFactsOf(from->exifData(), to->exifData()));
        to->setIptcData(from->iptcData());
        if (!from->xmpPacket().empty()) {
            to->setXmpPacket(from->xmpPacket());
            to->writeXmpFromPacket(true);
        }
        to->writeMetadata();
        auto &io = to->io();
        const auto *bytes = io.mmap();
        return Bytes(bytes, bytes + io.size());
    } catch (const std::exception &) {
        return std::nullopt;
    }
}

/// A TIFF file in the making, in memory.
struct InMemory
{
    Bytes bytes;
    size_t at = 0;
};

InMemory &memoryOf(thandle_t handle)
{
    return *static_cast<InMemory *>(handle);
}

tmsize_t take(thandle_t handle, void *target, tmsize_t count)
{
    auto &m = memoryOf(handle);
    const size_t n = m.at < m.bytes.size() ? std::min(size_t(count), m.bytes.size() - m.at) : 0;
    std::copy_n(m.bytes.data() + m.at, n, static_cast<uint8_t *>(target));
    m.at += n;
    return tmsize_t(n);
}

tmsize_t put(thandle_t handle, void *data, tmsize_t count)
{
    auto &m = memoryOf(handle);
    if (m.at + size_t(count) > m.bytes.size())
        m.bytes.resize(m.at + size_t(count));
    std::copy_n(static_cast<const uint8_t *>(data), size_t(count), m.bytes.data() + m.at);
    m.at += size_t(count);
    return count;
}

toff_t seek(thandle_t handle, toff_t offset, int whence)
{
    auto &m = memoryOf(handle);
    const toff_t base = whence == SEEK_CUR ? m.at : whence == SEEK_END ? m.bytes.size() : 0;
    return m.at = size_t(base + offset);
}

Tiff openedIn(InMemory &memory, const std::string &name, const char *mode)
{
    return Tiff(TIFFClientOpen(
        name.c_str(), mode, &memory, take, put, seek, [](thandle_t) { return 0; },
        [](thandle_t h) -> toff_t { return memoryOf(h).bytes.size(); }, nullptr, nullptr));
}

} // namespace

std::optional<Bytes> tiffOf(const Bytes &source, const std::string &name, const PictureCodes &picture,
                            std::span<const uint16_t> codes)
{
    TIFFSetErrorHandler(nullptr);
    TIFFSetWarningHandler(nullptr);
    InMemory original{source}, made;
    made.bytes.reserve(codes.size() * 2 + (1 << 20));
    {
        const auto from = openedIn(original, name, "rm"), to = openedIn(made, name, "wm");
        if (!from || !to || !writePixels(to.get(), from.get(), picture, codes))
            return std::nullopt;
    }
    return withFacts(source, made.bytes);
}

} // namespace wavechroma::same_file
