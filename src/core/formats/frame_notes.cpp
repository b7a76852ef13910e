#include "core/formats/frame_notes.h"

#include "core/base/shown_text.h"

#include <algorithm>
#include <exiv2/exiv2.hpp>

namespace wavechroma {

namespace {

constexpr uint16_t kExifPointer = 34665, kMakerNote = 37500;

/// What is of the file that it stood in, or is written in another place.
constexpr std::array<uint16_t, 7> kOfTheFile{
    kMakerNote,
    40961, // ColorSpace: of a rendered picture
    40962, // PixelXDimension
    40963, // PixelYDimension
    40965, // InteroperabilityIFD
    41730, // CFAPattern
    37398, // TIFF/EPStandardID
};

/// A note of more bytes is damaged: the largest of any maker are some hundred kilobytes.
constexpr size_t kMostBytes = 16 << 20;

std::vector<tags::Tag> tagsOf(const Exiv2::ExifData &exif, const std::string &group)
{
    std::vector<tags::Tag> out;
    for (const auto &one : exif) {
        const auto type = int(one.typeId());
        const auto size = one.size();
        if (one.groupName() != group || type < int(tags::Type::Byte) || type > int(tags::Type::Double) ||
            size <= 0 || size_t(size) > kMostBytes || std::ranges::count(kOfTheFile, one.tag()) > 0 ||
            tags::find(out, one.tag()))
            continue;
        tags::Tag tag{one.tag(), tags::Type(type), uint32_t(one.count()), Bytes(size_t(size))};
        one.copy(tag.data.data(), Exiv2::littleEndian);
        out.push_back(std::move(tag));
    }
    return out;
}

/// Where TIFF's directories name it, with its place in the file.
std::optional<MakerNote> makerNoteIn(const Bytes &file)
{
    const auto first = tiffDirectoryOf(file);
    const auto *pointer = first ? first->find(kExifPointer) : nullptr;
    if (!pointer)
        return std::nullopt;
    const auto exif = tiffDirectoryAt(file, first->order, first->order.get(file, pointer->at + 8, 4));
    const auto *note = exif ? exif->find(kMakerNote) : nullptr;
    if (!note || note->count <= 4 || note->count > kMostBytes)
        return std::nullopt;
    const auto place = first->order.get(file, note->at + 8, 4);
    if (place > file.size() || note->count > file.size() - place)
        return std::nullopt;
    const auto from = file.begin() + ptrdiff_t(place);
    return MakerNote{{from, from + ptrdiff_t(note->count)}, place, first->order.isHighestFirst()};
}

/// In files whose Exif lies in a JPEG or a box of their own; places in it count from Exif's own head then.
std::optional<MakerNote> makerNoteIn(const Exiv2::Image &image)
{
    const auto &exif = image.exifData();
    const auto note = exif.findKey(Exiv2::ExifKey("Exif.Photo.MakerNote"));
    if (note == exif.end() || note->size() <= 4 || size_t(note->size()) > kMostBytes)
        return std::nullopt;
    MakerNote out{Bytes(size_t(note->size())), 0, image.byteOrder() == Exiv2::bigEndian};
    note->copy(out.bytes.data(), image.byteOrder());
    if (const auto place = exif.findKey(Exiv2::ExifKey("Exif.MakerNote.Offset")); place != exif.end())
        out.place = uint32_t(place->toLong());
    return out;
}

} // namespace

void takeNotesOf(const Bytes &file, DngFrame &to)
{
    try {
        auto image = Exiv2::ImageFactory::open(file.data(), long(file.size()));
        image->readMetadata();
        const auto &exif = image->exifData();
        const auto text = [&](const char *key) {
            const auto at = exif.findKey(Exiv2::ExifKey(key));
            return at == exif.end() ? std::string() : oneLine(at->toString());
        };
        to.artist = text("Exif.Image.Artist");
        to.copyright = text("Exif.Image.Copyright");
        to.comment = text("Exif.Image.ImageDescription");
        const auto &xmp = image->xmpPacket();
        to.xmp.assign(xmp.begin(), xmp.end());
        to.exif = tagsOf(exif, "Photo");
        to.gps = tagsOf(exif, "GPSInfo");
        to.makerNote = makerNoteIn(file);
        if (!to.makerNote)
            to.makerNote = makerNoteIn(*image);
    } catch (const std::exception &) { // a format that it does not know, or notes that are damaged: none
    }
}

} // namespace wavechroma
