#include "core/raw/decoders.h"

#include <algorithm>
#include <exiv2/exiv2.hpp>
#include <memory>
#include <mutex>

namespace wavechroma::raw {

namespace {

std::string textOf(const Exiv2::ExifData &data, const char *key)
{
    const auto at = data.findKey(Exiv2::ExifKey(key));
    if (at == data.end())
        return {};
    std::string text = at->toString();
    text.erase(std::find(text.begin(), text.end(), '\0'), text.end());
    const auto last = text.find_last_not_of(" \t");
    text.erase(last == text.npos ? 0 : last + 1);
    return text;
}

double numberOf(const Exiv2::ExifData &data, const char *key)
{
    const auto at = data.findKey(Exiv2::ExifKey(key));
    if (at == data.end() || at->count() == 0)
        return 0;
    const auto [above, below] = at->toRational();
    return below == 0 ? 0 : double(above) / double(below);
}

/// "2026:10:04 09:22:10" → "2026-10-04T09:22:10"
std::string isoTime(std::string text)
{
    if (text.size() < 19 || text[4] != ':' || text[7] != ':' || text[10] != ' ')
        return {};
    text[4] = text[7] = '-';
    text[10] = 'T';
    return text.substr(0, 19);
}

void setIfEmpty(std::string &target, const std::string &value)
{
    if (target.empty())
        target = value;
}

void setIfZero(double &target, double value)
{
    if (target == 0)
        target = value;
}

/// 1 is sRGB; 2, which Exif does not define, is what many cameras write for opRGB.
std::optional<CodedSpace> spaceOf(const Exiv2::ExifData &data)
{
    const auto space = textOf(data, "Exif.Photo.ColorSpace");
    if (space == "1")
        return CodedSpace{srgb()};
    if (space == "2" || textOf(data, "Exif.Iop.InteroperabilityIndex") == "R03")
        return CodedSpace{*rgbSpaceFromId("oprgb")};
    return std::nullopt;
}

/// Read; null where the library is not to be had. Throws for what it cannot read.
std::unique_ptr<Exiv2::Image> metadataOf(std::span<const uint8_t> bytes)
{
    static std::mutex xmp; // the library parses XMP in one thread at a time, and is to be told how
    static const bool ready = Exiv2::XmpParser::initialize(
        [](void *lock, bool on) {
            auto &mutex = *static_cast<std::mutex *>(lock);
            on ? mutex.lock() : mutex.unlock();
        },
        &xmp);
    if (!ready)
        return nullptr;
    Exiv2::LogMsg::setLevel(Exiv2::LogMsg::mute);
    std::unique_ptr<Exiv2::Image> image(
        Exiv2::ImageFactory::open(bytes.data(), long(bytes.size())).release());
    // Its readers of films and of other pictures run long, or in circles, on broken files, and files that are
    // no film can look like one.
    constexpr int kOurs[] = {Exiv2::ImageType::jpeg, Exiv2::ImageType::png, Exiv2::ImageType::tiff,
                             Exiv2::ImageType::cr2,  Exiv2::ImageType::crw, Exiv2::ImageType::mrw,
                             Exiv2::ImageType::raf,  Exiv2::ImageType::orf, Exiv2::ImageType::rw2,
                             Exiv2::ImageType::bmff};
    if (std::find(std::begin(kOurs), std::end(kOurs), image->imageType()) == std::end(kOurs))
        return nullptr;
    image->readMetadata();
    return image;
}

} // namespace

std::optional<CodedSpace> fillFromExif(std::span<const uint8_t> bytes, CameraFacts &facts, int *orientation)
{
    try {
        const auto image = metadataOf(bytes);
        if (!image)
            return std::nullopt;
        const auto &data = image->exifData();
        setIfEmpty(facts.make, textOf(data, "Exif.Image.Make"));
        setIfEmpty(facts.model, textOf(data, "Exif.Image.Model"));
        setIfEmpty(facts.serial, textOf(data, "Exif.Photo.BodySerialNumber"));
        setIfEmpty(facts.serial, textOf(data, "Exif.Image.CameraSerialNumber"));
        setIfEmpty(facts.lens, textOf(data, "Exif.Photo.LensModel"));
        setIfEmpty(facts.uniqueModel, textOf(data, "Exif.Image.UniqueCameraModel"));
        setIfZero(facts.iso, numberOf(data, "Exif.Photo.ISOSpeedRatings"));
        setIfZero(facts.exposureSeconds, numberOf(data, "Exif.Photo.ExposureTime"));
        setIfZero(facts.fNumber, numberOf(data, "Exif.Photo.FNumber"));
        setIfZero(facts.focalMm, numberOf(data, "Exif.Photo.FocalLength"));
        // 0: by the camera, 1: as it was told (Exif 2.32, WhiteBalance)
        if (const auto balance = textOf(data, "Exif.Photo.WhiteBalance"); balance == "0" || balance == "1")
            facts.balancesItself = balance == "0";
        auto time = isoTime(textOf(data, "Exif.Photo.DateTimeOriginal"));
        if (time.empty())
            time = isoTime(textOf(data, "Exif.Image.DateTime"));
        if (!time.empty())
            facts.capturedAt = time + textOf(data, "Exif.Photo.OffsetTimeOriginal");
        if (orientation) {
            const int value = int(numberOf(data, "Exif.Image.Orientation"));
            if (value >= 1 && value <= 8)
                *orientation = value;
        }
        return spaceOf(data);
    } catch (const std::exception &) {
        return std::nullopt; // metadata is a help, not a condition: the picture is measured all the same
    }
}

} // namespace wavechroma::raw
