#include "core/formats/dng_frame.h"

#include "core/formats/exif_writing.h"
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
    std::vector<Tag> tags{rationals(33434, {c.exposureSeconds}),                      // ExposureTime
                          rationals(33437, {c.fNumber}),                              // FNumber
                          shorts(34855, {uint16_t(std::clamp(c.iso, 1.0, 65535.0))}), // ISOSpeedRatings
                          undefined(36864, {'0', '2', '3', '0'})};                    // ExifVersion
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

} // namespace

Bytes dngFileOf(const DngFrame &f, DngPacking packing)
{
    const bool packed = packing == DngPacking::LosslessJpeg && f.width % 2 == 0;
    Bytes image;
    if (packed) {
        image =
            losslessJpeg(f.samples, f.width, f.height, std::max(2, int(std::bit_width(unsigned(f.white)))));
    } else {
        image.reserve(f.samples.size() * 2);
        for (const uint16_t s : f.samples) {
            image.push_back(uint8_t(s));
            image.push_back(uint8_t(s >> 8));
        }
    }
    const auto filterSide = uint16_t(std::lround(std::sqrt(double(f.filter.size()))));
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
              ascii(305, "Wavechroma simulated studio"),
              shorts(33421, {filterSide, filterSide}), // CFARepeatPatternDim
              bytes(33422, f.filter),                  // CFAPattern
              bytes(50706, {1, 4, 0, 0}),              // DNGVersion
              bytes(50707, {1, 4, 0, 0}),              // DNGBackwardVersion
              ascii(50708, f.camera.uniqueModel),      // UniqueCameraModel
              bytes(50710, {0, 1, 2}),                 // CFAPlaneColor
              shorts(50711, {1}),                      // CFALayout: rectangular
              shorts(50713, {2, 2}),                   // BlackLevelRepeatDim
              longs(50714, {uint32_t(f.black), uint32_t(f.black), uint32_t(f.black), uint32_t(f.black)}),
              longs(50717, {uint32_t(f.white)}),                                              // WhiteLevel
              srationals(50721, entriesOf(f.colorMatrix)),                                    // ColorMatrix1
              rationals(50728, {f.asShotNeutral[0], f.asShotNeutral[1], f.asShotNeutral[2]}), // AsShotNeutral
              srationals(50730, {0}), // BaselineExposure
              shorts(50778, {21})};   // CalibrationIlluminant1: D65
    if (!f.comment.empty())
        d.tags.push_back(ascii(270, f.comment));
    if (const auto taken = exifTime(f.camera.capturedAt); !taken.empty())
        d.tags.push_back(ascii(306, taken));
    if (!f.camera.serial.empty())
        d.tags.push_back(ascii(50735, f.camera.serial)); // CameraSerialNumber
    d.childPointer = 34665;                              // Exif
    d.child = exifOf(f.camera);
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
