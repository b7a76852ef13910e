#include "core/formats/dng_frame.h"

#include "core/formats/exif_writing.h"
#include "core/formats/frame_notes.h"
#include "core/formats/lossless_jpeg.h"
#include "core/formats/tag_directory.h"

#include <algorithm>
#include <bit>
#include <cmath>

namespace wavechroma {

using namespace tags;

namespace {

std::vector<double> entriesOf(const Matrix3 &m)
{
    std::vector<double> out;
    for (const auto &row : m.rows)
        out.insert(out.end(), row.begin(), row.end());
    return out;
}

std::vector<Tag> exifOf(const CameraFacts &c)
{
    std::vector<Tag> tags;
    if (c.exposureSeconds > 0)
        tags.push_back(rationals(33434, {c.exposureSeconds})); // ExposureTime
    if (c.fNumber > 0)
        tags.push_back(rationals(33437, {c.fNumber})); // FNumber
    if (c.iso > 0)
        tags.push_back(shorts(34855, {uint16_t(std::clamp(c.iso, 1.0, 65535.0))})); // ISOSpeedRatings
    if (const auto taken = exifTime(c.capturedAt); !taken.empty())
        tags.push_back(ascii(36867, taken)); // DateTimeOriginal
    if (c.focalMm > 0)
        tags.push_back(rationals(37386, {c.focalMm})); // FocalLength
    if (c.balancesItself)
        tags.push_back(shorts(41987, {uint16_t(*c.balancesItself ? 0 : 1)})); // WhiteBalance
    if (!c.serial.empty())
        tags.push_back(ascii(42033, c.serial)); // BodySerialNumber
    if (!c.lens.empty())
        tags.push_back(ascii(42036, c.lens)); // LensModel
    return tags;
}

/// Those of `more` that are not there yet, and a version, which says what else may be.
std::vector<Tag> joined(std::vector<Tag> exif, const std::vector<Tag> &more)
{
    for (const auto &tag : more)
        if (!find(exif, tag.id))
            exif.push_back(tag);
    constexpr uint16_t kExifVersion = 36864;
    if (!find(exif, kExifVersion))
        exif.push_back(undefined(kExifVersion, {'0', '2', '3', '0'}));
    return exif;
}

/// A maker's note in another's file (DNG 1.4.0.0, DNGPrivateData): in one of whatever place and order of
/// bytes nobody could follow it, so both are said, highest byte first.
Bytes privateDataOf(const MakerNote &note)
{
    Bytes out;
    const auto put = [&](std::string_view text) { out.insert(out.end(), text.begin(), text.end()); };
    put(std::string_view("Adobe\0MakN", 10));
    ByteOrder(true).put(out, uint32_t(note.bytes.size() + 6), 4);
    put(note.isHighestFirst ? "MM" : "II");
    ByteOrder(true).put(out, note.place, 4);
    out.insert(out.end(), note.bytes.begin(), note.bytes.end());
    if (note.bytes.size() % 2)
        out.push_back(0);
    return out;
}

} // namespace

Result<DngFrame> dngFrameOf(const RawFrame &frame, const Bytes &file, std::vector<uint16_t> &memory)
{
    if (!frame.mosaic)
        return unusable("{file}: holds no samples behind a colour filter, which a DNG copy is made of",
                        {{"file", frame.path}});
    const auto &m = *frame.mosaic;
    memory.clear();
    memory.reserve(size_t(frame.width) * size_t(frame.height));
    for (int y = 0; y < frame.height; ++y)
        memory.insert(memory.end(), m.samples + y * m.rowStride, m.samples + y * m.rowStride + frame.width);
    DngFrame out;
    out.width = frame.width;
    out.height = frame.height;
    out.samples = memory;
    out.filter = m.channel;
    out.filterColumns = m.periodX;
    out.blacks.assign(m.black.begin(), m.black.end());
    out.white = int(std::lround(m.white));
    out.camera = frame.camera;
    out.orientation = frame.orientation;
    out.software = "Wavechroma " WAVECHROMA_VERSION;
    if (!frame.fileColor.matrices.empty())
        out.colorMatrix = frame.fileColor.matrices.back().cameraFromXyz;
    out.asShotNeutral = frame.fileColor.asShotNeutral.value_or(Vector3{1, 1, 1});
    takeNotesOf(file, out);
    return out;
}

Bytes dngFileOf(const DngFrame &f, DngPacking packing)
{
    const bool packed = packing == DngPacking::LosslessJpeg && f.width % 2 == 0;
    Bytes image;
    if (packed) {
        const auto most = f.samples.empty() ? 0 : *std::max_element(f.samples.begin(), f.samples.end());
        image = losslessJpeg(f.samples, f.width, f.height,
                             std::max(2, int(std::bit_width(unsigned(std::max<int>(f.white, most))))));
    } else {
        image.reserve(f.samples.size() * 2);
        for (const uint16_t s : f.samples) {
            image.push_back(uint8_t(s));
            image.push_back(uint8_t(s >> 8));
        }
    }
    const auto columns = f.filterColumns > 0 ? uint16_t(f.filterColumns)
                                             : uint16_t(std::lround(std::sqrt(double(f.filter.size()))));
    const auto filterRows = uint16_t(f.filter.size() / columns);
    const auto blacks = f.blacks.empty() ? std::vector<double>(f.filter.size(), f.black) : f.blacks;
    Directory d;
    d.tags = {longs(254, {0}), // NewSubfileType: the main picture
              longs(256, {uint32_t(f.width)}),
              longs(257, {uint32_t(f.height)}),
              shorts(258, {16}),
              shorts(259, {uint16_t(packed ? 7 : 1)}),
              shorts(262, {32803}), // PhotometricInterpretation: colour filter array
              ascii(271, f.camera.make),
              ascii(272, f.camera.model),
              shorts(274, {uint16_t(f.orientation)}),
              shorts(277, {1}),
              longs(278, {uint32_t(f.height)}), // one strip
              longs(279, {uint32_t(image.size())}),
              shorts(284, {1}),
              ascii(305, f.software),
              shorts(33421, {filterRows, columns}), // CFARepeatPatternDim
              bytes(33422, f.filter),               // CFAPattern
              bytes(50706, {1, 4, 0, 0}),           // DNGVersion
              bytes(50707, {1, 4, 0, 0}),           // DNGBackwardVersion
              ascii(50708, f.camera.uniqueModel),   // UniqueCameraModel
              bytes(50710, {0, 1, 2}),              // CFAPlaneColor
              shorts(50711, {1}),                   // CFALayout: rectangular
              shorts(50713, {filterRows, columns}), // BlackLevelRepeatDim
              rationals(50714, blacks),
              longs(50717, {uint32_t(f.white)}),                                              // WhiteLevel
              srationals(50721, entriesOf(f.colorMatrix)),                                    // ColorMatrix1
              rationals(50728, {f.asShotNeutral[0], f.asShotNeutral[1], f.asShotNeutral[2]}), // AsShotNeutral
              srationals(50730, {0}), // BaselineExposure
              shorts(50778, {21})};   // CalibrationIlluminant1: D65
    if (!f.comment.empty())
        d.tags.push_back(ascii(270, f.comment));
    if (!f.artist.empty())
        d.tags.push_back(ascii(315, f.artist));
    if (!f.copyright.empty())
        d.tags.push_back(ascii(33432, f.copyright));
    if (!f.xmp.empty())
        d.tags.push_back(bytes(700, f.xmp));
    if (const auto taken = exifTime(f.camera.capturedAt); !taken.empty())
        d.tags.push_back(ascii(306, taken));
    if (!f.camera.serial.empty())
        d.tags.push_back(ascii(50735, f.camera.serial)); // CameraSerialNumber
    d.branches.push_back({34665, joined(exifOf(f.camera), f.exif)});
    if (!f.gps.empty())
        d.branches.push_back({34853, f.gps});
    if (f.makerNote)
        d.tags.push_back(bytes(50740, privateDataOf(*f.makerNote)));
    if (!f.preview.empty()) {
        d.picturePointer = 330;       // SubIFDs
        d.picture = {longs(254, {1}), // a smaller one
                     longs(256, {uint32_t(f.previewWidth)}),
                     longs(257, {uint32_t(f.previewHeight)}),
                     shorts(258, {8, 8, 8}),
                     shorts(259, {7}), // JPEG
                     shorts(262, {6}), // luma and chroma
                     shorts(277, {3}),
                     longs(278, {uint32_t(f.previewHeight)}),
                     longs(279, {uint32_t(f.preview.size())})};
        d.pictureBytes = f.preview;
    }
    return fileOf(d, 42, 273, image);
}

} // namespace wavechroma
