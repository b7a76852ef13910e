#include "core/raw/own_dng.h"

#include "core/raw/lossless_jpeg_reader.h"
#include "core/raw/tiff_directory.h"

#include <atomic>
#include <bit>
#include <cstring>
#include <tbb/parallel_for.h>

namespace wavechroma::raw {

namespace {

/// One directory's numbers.
class Directory
{
public:
    Directory(std::span<const uint8_t> file, TiffDirectory directory)
        : m_file(file), m_directory(std::move(directory))
    {
    }
    /// Of whole numbers; empty where the tag is not there or points outside the file.
    std::vector<uint32_t> numbers(uint16_t id) const
    {
        const auto *entry = m_directory.find(id);
        if (!entry)
            return {};
        const int size = entry->type == 3                        ? 2
                         : entry->type == 4 || entry->type == 13 ? 4
                         : entry->type == 1                      ? 1
                                                                 : 0;
        const size_t total = size_t(size) * entry->count;
        const size_t from = total <= 4 ? entry->at + 8 : m_directory.order.get(m_file, entry->at + 8, 4);
        if (size == 0 || total > m_file.size() || from > m_file.size() - total)
            return {};
        std::vector<uint32_t> out(entry->count);
        for (size_t i = 0; i < out.size(); ++i)
            out[i] = m_directory.order.get(m_file, from + i * size_t(size), size);
        return out;
    }
    uint32_t number(uint16_t id, uint32_t otherwise) const
    {
        const auto all = numbers(id);
        return all.size() == 1 ? all[0] : otherwise;
    }
    bool has(uint16_t id) const { return m_directory.find(id) != nullptr; }
    bool isHighestFirst() const { return m_directory.order.isHighestFirst(); }

private:
    std::span<const uint8_t> m_file;
    TiffDirectory m_directory;
};

constexpr uint16_t kSubfile = 254, kWidth = 256, kHeight = 257, kBits = 258, kCompression = 259,
                   kPhotometric = 262, kStrips = 273, kSamples = 277, kRowsPerStrip = 278, kStripSizes = 279,
                   kTileWidth = 322, kTileHeight = 323, kTiles = 324, kTileSizes = 325, kSubDirectories = 330,
                   kVersion = 50706, kLinearization = 50712, kMaskedAreas = 50830;

/// The first directory and those right below it that are of a main picture of that size.
std::vector<Directory> mainDirectories(std::span<const uint8_t> file, int width, int height)
{
    const auto first = tiffDirectoryOf(file);
    if (!first || first->magic != 42)
        return {};
    std::vector<Directory> out{{file, *first}};
    for (const auto at : out[0].numbers(kSubDirectories))
        if (const auto one = tiffDirectoryAt(file, first->order, at))
            out.emplace_back(file, *one);
    std::erase_if(out, [&](const Directory &one) {
        return one.number(kSubfile, 0) != 0 || one.number(kWidth, 0) != uint32_t(width) ||
               one.number(kHeight, 0) != uint32_t(height);
    });
    return out;
}

/// The directory of the mosaic of that size, if there is just one.
std::optional<Directory> mosaicDirectory(std::span<const uint8_t> file, int width, int height)
{
    const auto first = tiffDirectoryOf(file);
    const auto version = first ? Directory(file, *first).numbers(kVersion) : std::vector<uint32_t>();
    if (version.size() != 4 || version[0] != 1 || version[1] < 1) // differences of 16 bits mean others before
        return std::nullopt;
    std::optional<Directory> found;
    for (const auto &one : mainDirectories(file, width, height))
        if (one.number(kPhotometric, 0) == 32803) {
            if (found)
                return std::nullopt;
            found = one;
        }
    return found;
}

/// A strip or tile: where it lies in the file and in the picture.
struct Piece
{
    std::span<const uint8_t> bytes;
    int x = 0, y = 0, width = 0, height = 0; ///< as far as the picture goes
    int packedWidth = 0;
};

std::optional<std::vector<Piece>> piecesOf(std::span<const uint8_t> file, const Directory &d, int width,
                                           int height)
{
    const bool tiled = d.has(kTiles);
    const auto offsets = d.numbers(tiled ? kTiles : kStrips),
               sizes = d.numbers(tiled ? kTileSizes : kStripSizes);
    const uint32_t pieceWidth = tiled ? d.number(kTileWidth, 0) : uint32_t(width),
                   pieceHeight = tiled ? d.number(kTileHeight, 0) : d.number(kRowsPerStrip, uint32_t(height));
    if (offsets.empty() || offsets.size() != sizes.size() || pieceWidth == 0 || pieceHeight == 0 ||
        pieceWidth > 65535 || offsets.size() > 100000)
        return std::nullopt;
    const size_t across = (size_t(width) + pieceWidth - 1) / pieceWidth,
                 down = (size_t(height) + pieceHeight - 1) / pieceHeight;
    if (offsets.size() != across * down)
        return std::nullopt;
    std::vector<Piece> out;
    for (size_t i = 0; i < offsets.size(); ++i) {
        if (offsets[i] > file.size() || sizes[i] > file.size() - offsets[i])
            return std::nullopt;
        Piece piece{file.subspan(offsets[i], sizes[i]),
                    int(i % across * pieceWidth),
                    int(i / across * pieceHeight),
                    0,
                    0,
                    int(pieceWidth)};
        piece.width = std::min(int(pieceWidth), width - piece.x);
        piece.height = int(std::min(int64_t(pieceHeight), int64_t(height - piece.y)));
        out.push_back(piece);
    }
    return out;
}

std::shared_ptr<const OwnSamples> unpackJpeg(const std::vector<Piece> &pieces, int width, int height)
{
    for (const auto &piece : pieces) { // each row of a piece is a row of its stream
        const auto header = losslessJpegHeaderOf(piece.bytes);
        if (!header || header->width * header->components != piece.packedWidth ||
            header->height < piece.height)
            return nullptr;
    }
    const auto out = std::make_shared<OwnSamples>();
    out->unpacked = Samples(size_t(width) * size_t(height));
    out->samples = out->unpacked.data();
    out->rowStride = width;
    std::atomic<bool> isSound = true;
    tbb::parallel_for(size_t(0), pieces.size(), [&](size_t i) {
        const auto &p = pieces[i];
        if (!unpackLosslessJpeg(p.bytes, out->unpacked.data() + ptrdiff_t(p.y) * width + p.x, width, p.width,
                                p.height))
            isSound = false;
    });
    out->isDamaged = !isSound;
    return out;
}

/// The file's own bytes where they lie as the machine has them.
std::shared_ptr<const OwnSamples> inPlace(std::span<const uint8_t> bytes, int width, int height)
{
    const auto out = std::make_shared<OwnSamples>();
    out->rowStride = width;
    out->samples = reinterpret_cast<const uint16_t *>(bytes.data());
    out->isDamaged = bytes.size() < size_t(width) * size_t(height) * 2;
    return out;
}

/// A row of samples of 8 to 16 bits, the highest bit first; whole bytes as they are, in the file's order.
void unpackRow(const uint8_t *from, uint32_t bits, bool isHighestFirst, uint16_t *to, int count)
{
    if (bits == 8) {
        std::copy_n(from, count, to);
    } else if (bits == 16) {
        for (int x = 0; x < count; ++x, from += 2)
            to[x] = isHighestFirst ? uint16_t(from[0] << 8 | from[1]) : uint16_t(from[1] << 8 | from[0]);
    } else {
        uint32_t held = 0, bitsHeld = 0;
        for (int x = 0; x < count; ++x) {
            while (bitsHeld < bits) {
                held = held << 8 | *from++;
                bitsHeld += 8;
            }
            bitsHeld -= bits;
            to[x] = uint16_t(held >> bitsHeld & ((1U << bits) - 1));
        }
    }
}

/// Rows begin with whole bytes (TIFF 6.0, section 3).
std::shared_ptr<const OwnSamples> unpackPlain(const std::vector<Piece> &pieces, int width, int height,
                                              uint32_t bits, bool isHighestFirst)
{
    const auto out = std::make_shared<OwnSamples>();
    out->unpacked = Samples(size_t(width) * size_t(height));
    out->samples = out->unpacked.data();
    out->rowStride = width;
    std::atomic<bool> isSound = true;
    tbb::parallel_for(size_t(0), pieces.size(), [&](size_t i) {
        const auto &p = pieces[i];
        const size_t rowBytes = (size_t(p.packedWidth) * bits + 7) / 8;
        if (p.bytes.size() < rowBytes * size_t(p.height)) {
            isSound = false;
            return;
        }
        for (int y = 0; y < p.height; ++y)
            unpackRow(p.bytes.data() + size_t(y) * rowBytes, bits, isHighestFirst,
                      out->unpacked.data() + (ptrdiff_t(p.y) + y) * width + p.x, p.width);
    });
    out->isDamaged = !isSound;
    return out;
}

} // namespace

bool endsBeforeItsPicture(std::span<const uint8_t> file, int width, int height)
{
    for (const auto &directory : mainDirectories(file, width, height))
        for (const auto id : {kStrips, kTiles})
            for (const auto place : directory.numbers(id))
                if (place >= file.size())
                    return true;
    return false;
}

std::shared_ptr<const OwnSamples> ownSamplesOf(std::span<const uint8_t> file, int width, int height)
{
    const auto directory = width > 0 && height > 0 ? mosaicDirectory(file, width, height) : std::nullopt;
    if (!directory || directory->number(kSamples, 1) != 1 || directory->has(kLinearization) ||
        directory->has(kMaskedAreas)) // from which the library tells the black level
        return nullptr;
    const uint32_t bits = directory->number(kBits, 0), compression = directory->number(kCompression, 1);
    const auto pieces = piecesOf(file, *directory, width, height);
    if (!pieces)
        return nullptr;
    if (compression == 7 && bits >= 8 && bits <= 16)
        return unpackJpeg(*pieces, width, height);
    if (compression == 1 && bits >= 8 && bits <= 16 && bits % 2 == 0) {
        const auto bytes = pieces->front().bytes;
        const bool isNative = directory->isHighestFirst() == (std::endian::native == std::endian::big);
        const bool liesWell = reinterpret_cast<uintptr_t>(bytes.data()) % alignof(uint16_t) == 0;
        return bits == 16 && isNative && liesWell && pieces->size() == 1 && !directory->has(kTiles)
                   ? inPlace(bytes, width, height)
                   : unpackPlain(*pieces, width, height, bits, directory->isHighestFirst());
    }
    return nullptr;
}

} // namespace wavechroma::raw
