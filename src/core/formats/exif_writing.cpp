#include "core/formats/exif_writing.h"

#include <algorithm>
#include <cmath>
#include <exiv2/exiv2.hpp>

namespace wavechroma {

namespace {

/// Exposure times as people read them: 1/60 s rather than 0.016667.
Exiv2::URational rationalOf(double value)
{
    if (value > 0 && value < 0.5 && std::abs(1 / value - std::round(1 / value)) < 1e-3 / value)
        return {1, uint32_t(std::lround(1 / value))};
    const uint32_t below = value < 4000 ? 1000000 : 1;
    return {uint32_t(std::lround(value * below)), below};
}

void setText(Exiv2::ExifData &data, const char *key, const std::string &text)
{
    if (!text.empty())
        data[key] = text;
}

void setNumber(Exiv2::ExifData &data, const char *key, double value)
{
    if (value > 0 && value < 4e9)
        data[key] = rationalOf(value);
}

} // namespace

std::string exifTime(const std::string &iso)
{
    if (iso.size() < 19 || iso[4] != '-' || iso[7] != '-' || iso[10] != 'T')
        return {};
    std::string out = iso.substr(0, 19);
    out[4] = out[7] = ':';
    out[10] = ' ';
    return out;
}

Bytes exifOf(const ExifFacts &facts)
{
    Exiv2::ExifData data;
    const auto &camera = facts.camera;
    setText(data, "Exif.Image.Make", camera.make);
    setText(data, "Exif.Image.Model", camera.model);
    data["Exif.Image.Orientation"] = uint16_t(1);
    if (facts.pixelsPerInch > 0) {
        setNumber(data, "Exif.Image.XResolution", facts.pixelsPerInch);
        setNumber(data, "Exif.Image.YResolution", facts.pixelsPerInch);
        data["Exif.Image.ResolutionUnit"] = uint16_t(2);
    }
    setText(data, "Exif.Image.DateTime", exifTime(camera.capturedAt));
    setText(data, "Exif.Photo.DateTimeOriginal", exifTime(camera.capturedAt));
    setNumber(data, "Exif.Photo.ExposureTime", camera.exposureSeconds);
    setNumber(data, "Exif.Photo.FNumber", camera.fNumber);
    setNumber(data, "Exif.Photo.FocalLength", camera.focalMm);
    if (camera.iso > 0)
        data["Exif.Photo.ISOSpeedRatings"] = uint16_t(std::min(65535.0, std::round(camera.iso)));
    setText(data, "Exif.Photo.LensModel", camera.lens);
    setText(data, "Exif.Photo.BodySerialNumber", camera.serial);
    data["Exif.Photo.ExifVersion"] = "48 50 51 49"; // 0231
    data["Exif.Photo.FlashpixVersion"] = "48 49 48 48";
    data["Exif.Photo.ComponentsConfiguration"] = "1 2 3 0"; // Y, Cb, Cr, where JPEG has them
    data["Exif.Image.YCbCrPositioning"] = uint16_t(1);
    data["Exif.Photo.ColorSpace"] = uint16_t(facts.isSrgb ? 1 : 65535);
    data["Exif.Photo.PixelXDimension"] = uint32_t(facts.width);
    data["Exif.Photo.PixelYDimension"] = uint32_t(facts.height);
    Exiv2::Blob blob;
    Exiv2::ExifParser::encode(blob, Exiv2::littleEndian, data);
    return {blob.begin(), blob.end()};
}

} // namespace wavechroma
