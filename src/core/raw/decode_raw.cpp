#include "core/base/said.h"
#include "core/raw/decode_dng.h"
#include "core/raw/decoders.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <ctime>
#include <libraw/libraw.h>
#include <numeric>

namespace wavechroma::raw {

namespace {

struct Opened
{
    std::shared_ptr<const MappedFile> file;
    LibRaw raw;
};

/// The raw library reads zeros past the end of a cut file and goes on; it counts that here and we refuse the
/// frame.
void onDataError(void *counter, const char *, const int)
{
    ++*static_cast<int *>(counter);
}

std::string isoTime(time_t stamp)
{
    if (stamp <= 0)
        return {};
    std::tm local{};
    localtime_r(&stamp, &local);
    char text[32];
    std::strftime(text, sizeof text, "%Y-%m-%dT%H:%M:%S", &local);
    return text;
}

/// The raw library keeps facts as floats; 0.01 is meant, not 0.009999999776.
double shortest(float value)
{
    char text[32];
    const auto end = std::to_chars(text, text + sizeof text, value).ptr;
    double out = 0;
    std::from_chars(text, end, out);
    return out;
}

CameraFacts factsOf(const libraw_data_t &imgdata)
{
    CameraFacts facts;
    facts.make = imgdata.idata.make;
    facts.model = imgdata.idata.model;
    facts.serial = imgdata.shootinginfo.BodySerial;
    facts.lens = imgdata.lens.Lens;
    facts.iso = shortest(imgdata.other.iso_speed);
    facts.exposureSeconds = shortest(imgdata.other.shutter);
    facts.fNumber = shortest(imgdata.other.aperture);
    facts.focalMm = shortest(imgdata.other.focal_len);
    facts.capturedAt = isoTime(imgdata.other.timestamp);
    facts.uniqueModel = imgdata.color.UniqueCameraModel;
    return facts;
}

FileColor fileColorOf(const libraw_data_t &imgdata)
{
    FileColor color;
    for (const auto &dng : imgdata.color.dng_color) {
        FileColorMatrix m;
        double size = 0;
        for (int i = 0; i < 3; ++i)
            for (int j = 0; j < 3; ++j)
                size += std::abs(m.cameraFromXyz(i, j) = dng.colormatrix[i][j]);
        m.illuminantCode = dng.illuminant;
        if (size > 0 && inverse(m.cameraFromXyz))
            color.matrices.push_back(m);
    }
    if (color.matrices.empty()) {
        FileColorMatrix m;
        for (int i = 0; i < 3; ++i)
            for (int j = 0; j < 3; ++j)
                m.cameraFromXyz(i, j) = double(imgdata.color.cam_xyz[i][j]);
        m.illuminantCode = 21; // the library's own table is for D65
        if (inverse(m.cameraFromXyz))
            color.matrices.push_back(m);
    }
    const auto &mul = imgdata.color.cam_mul;
    if (mul[0] > 0 && mul[1] > 0 && mul[2] > 0)
        color.asShotNeutral = Vector3{double(mul[1]) / double(mul[0]), 1, double(mul[1]) / double(mul[2])};
    return color;
}

Result<Mosaic> mosaicOf(Opened &opened, const std::string &name)
{
    LibRaw &raw = opened.raw;
    const auto &imgdata = raw.imgdata;
    const auto &sizes = imgdata.sizes;
    Mosaic mosaic;
    mosaic.memory = Samples(size_t(sizes.width) * sizes.height); // the library's goes with it
    mosaic.rowStride = sizes.width;
    mosaic.samples = mosaic.memory.data();
    for (size_t y = 0; y < sizes.height; ++y)
        std::copy_n(imgdata.rawdata.raw_image + (y + sizes.top_margin) * (sizes.raw_pitch / 2) +
                        sizes.left_margin,
                    sizes.width, mosaic.memory.data() + y * sizes.width);
    const auto &cblack = imgdata.color.cblack;
    const int blackRows = cblack[4] && cblack[5] ? int(cblack[4]) : 1;
    const int blackColumns = cblack[4] && cblack[5] ? int(cblack[5]) : 1;
    const int filter = imgdata.idata.filters == 9 ? 6 : imgdata.idata.filters < 1000 ? 16 : 8;
    mosaic.periodX = std::lcm(imgdata.idata.filters == 9 ? 6 : 2, blackColumns);
    mosaic.periodY = std::lcm(filter == 8 ? 2 : filter, blackRows);
    if (mosaic.periodX > 16 || mosaic.periodY > 16)
        return unusable("{file}: its black level pattern is larger than 16 pixels", {{"file", name}});
    // A filters word can in principle run over 8 rows; if it does not repeat after 2, use all 8.
    if (filter == 8)
        for (int y = 0; y < 8 && mosaic.periodY < 8; ++y)
            for (int x = 0; x < 2; ++x)
                if (raw.COLOR(y, x) != raw.COLOR(y % 2, x))
                    mosaic.periodY = std::lcm(8, blackRows);
    for (int y = 0; y < mosaic.periodY; ++y)
        for (int x = 0; x < mosaic.periodX; ++x) {
            const int c = raw.COLOR(y, x);
            const char colour = c < 0 || c > 3 ? '?' : imgdata.idata.cdesc[c];
            if (colour != "RGBG"[std::clamp(c, 0, 3)])
                return unusable("{file}: its colour filter pattern is not red, green and blue",
                                {{"file", name}});
            double black = imgdata.color.black + cblack[c];
            if (cblack[4] && cblack[5])
                black += cblack[6 + unsigned(y % blackRows) * cblack[5] + unsigned(x % blackColumns)];
            mosaic.channel.push_back(uint8_t(c == 3 ? 1 : c));
            mosaic.black.push_back(float(black));
        }
    for (const uint8_t c : {0, 1, 2})
        if (std::find(mosaic.channel.begin(), mosaic.channel.end(), c) == mosaic.channel.end())
            return unusable("{file}: its colour filter pattern is not red, green and blue", {{"file", name}});
    mosaic.white = float(imgdata.color.maximum);
    if (*std::max_element(mosaic.black.begin(), mosaic.black.end()) >= mosaic.white)
        return unusable("{file}: its black level is not below its white level", {{"file", name}});
    return mosaic;
}

/// Linear RGB raw files: three or four samples a pixel, whole numbers or floats.
Result<LinearPicture> pictureOf(const libraw_data_t &imgdata, const std::string &name)
{
    const auto &s = imgdata.sizes;
    const auto &rawdata = imgdata.rawdata;
    const int samples = rawdata.color4_image ? 4 : 3;
    const ushort *codes = rawdata.color4_image   ? &rawdata.color4_image[0][0]
                          : rawdata.color3_image ? &rawdata.color3_image[0][0]
                                                 : nullptr;
    if (!codes)
        return unusable(
            "{file}: its samples are stored in a form that cannot be measured (floating point or layered)",
            {{"file", name}});
    const ptrdiff_t stride = s.raw_pitch / 2;
    if (stride < ptrdiff_t(samples) * (s.left_margin + s.width))
        return unusable("{file}: the rows are shorter than the width says", {{"file", name}});
    const float white = float(imgdata.color.maximum);
    for (int c = 0; c < 3; ++c)
        if (!(float(imgdata.color.black + imgdata.color.cblack[c]) < white))
            return unusable("{file}: its black level is not below its white level", {{"file", name}});
    LinearPicture out;
    for (size_t c = 0; c < 3; ++c) {
        const float black = float(imgdata.color.black + imgdata.color.cblack[c]);
        out.light[c].resize(65536);
        for (size_t code = 0; code < out.light[c].size(); ++code)
            out.light[c][code] = (float(code) - black) / (white - black);
    }
    out.codes = Samples(size_t(s.width) * s.height * 3);
    for (int y = 0; y < s.height; ++y)
        for (int x = 0; x < s.width; ++x)
            for (int c = 0; c < 3; ++c)
                out.codes[(size_t(y) * s.width + size_t(x)) * 3 + size_t(c)] =
                    codes[(y + s.top_margin) * stride + (x + s.left_margin) * samples + c];
    out.saturation = 0.998F;
    return out;
}

/// The library's code: 4 swaps rows and columns, 2 turns upside down, 1 left to right, applied in that order
/// to the picture; from EXIF's 1 to 8 as its own table has them.
int orientationOf(int flip)
{
    constexpr int kOrientations[] = {1, 2, 4, 3, 5, 8, 6, 7};
    return flip >= 0 && flip < 8 ? kOrientations[flip] : 1;
}

/// The library's samples.
Result<Done> unpack(LibRaw &raw, size_t size, const std::string &name)
{
    int damage = 0;
    raw.set_dataerror_handler(onDataError, &damage);
    const int code = raw.unpack();
    raw.set_dataerror_handler(nullptr, nullptr);
    if (code != LIBRAW_SUCCESS)
        return unusable("{file}: {why}", {{"file", name}, {"why", libraryFault(code)}});
    if (damage > 0)
        return unusable("{file}: is truncated or damaged ({faults} faults while reading {megabytes:1} MB)",
                        {{"file", name}, {"faults", double(damage)}, {"megabytes", double(size) / 1e6}});
    return Done{};
}

/// The library's samples of a whole mosaic, margins too, which it has put through the file's table of
/// linearisation.
SamplesOrFault samplesOfLibrary(LibRaw &raw, size_t size, const std::string &name)
{
    if (const auto done = unpack(raw, size, name); !done)
        return done.error();
    const auto &sizes = raw.imgdata.sizes;
    const auto *from = raw.imgdata.rawdata.raw_image;
    if (!from)
        return unusable("{file}: its samples are compressed in a way that is not supported",
                        {{"file", name}});
    const auto out = std::make_shared<OwnSamples>();
    out->rowStride = sizes.raw_width;
    out->unpacked = Samples(size_t(sizes.raw_width) * sizes.raw_height);
    out->samples = out->unpacked.data();
    for (size_t y = 0; y < sizes.raw_height; ++y)
        std::copy_n(from + y * (sizes.raw_pitch / 2), sizes.raw_width,
                    out->unpacked.data() + y * sizes.raw_width);
    return std::shared_ptr<const OwnSamples>(out);
}

Result<RawFrame> decode(std::shared_ptr<const MappedFile> file, const std::string &name, bool byLibrary)
{
    const auto opened = std::make_shared<Opened>();
    opened->file = std::move(file);
    LibRaw &raw = opened->raw;
    const auto bytes = opened->file->bytes();
    const auto fail = [&](int code) {
        return unusable("{file}: {why}", {{"file", name}, {"why", libraryFault(code)}});
    };
    const int code = raw.open_buffer(const_cast<uint8_t *>(bytes.data()), bytes.size());
    RawFrame frame;
    frame.path = name;
    if (code != LIBRAW_SUCCESS && hasDngVersion(bytes) && !byLibrary) { // it knows fewer packings than we do
        const auto none = [&] { return SamplesOrFault(fail(code)); };
        const auto done = fillFromDng(frame, opened->file, none);
        return done ? Result<RawFrame>(std::move(frame)) : done.error();
    }
    if (code != LIBRAW_SUCCESS)
        return fail(code);
    const auto &sizes = raw.imgdata.sizes;
    if (size_t(sizes.raw_width) * sizes.raw_height > kMostPixels)
        return unusable("{file}: is too large", {{"file", name}});
    frame.camera = factsOf(raw.imgdata);
    frame.fileColor = fileColorOf(raw.imgdata);
    frame.orientation = orientationOf(sizes.flip);
    if (raw.imgdata.idata.dng_version && !byLibrary) {
        const auto done =
            fillFromDng(frame, opened->file, [&] { return samplesOfLibrary(raw, bytes.size(), name); });
        return done ? Result<RawFrame>(std::move(frame)) : done.error();
    }
    if (const auto done = unpack(raw, bytes.size(), name); !done)
        return done.error();
    if (sizes.width < 16 || sizes.height < 16 || sizes.left_margin + sizes.width > sizes.raw_width ||
        sizes.top_margin + sizes.height > sizes.raw_height)
        return unusable("{file}: has no usable picture size", {{"file", name}});
    frame.width = sizes.width;
    frame.height = sizes.height;
    if (raw.imgdata.rawdata.raw_image && raw.imgdata.idata.filters) {
        auto mosaic = mosaicOf(*opened, name);
        if (!mosaic)
            return mosaic.error();
        frame.mosaic = std::make_shared<Mosaic>(std::move(*mosaic));
    } else {
        auto picture = pictureOf(raw.imgdata, name);
        if (!picture)
            return picture.error();
        frame.picture = std::make_shared<LinearPicture>(std::move(*picture));
    }
    return frame;
}

} // namespace

words::Phrase libraryFault(int code)
{
    switch (code) {
    case LIBRAW_IO_ERROR: // it has the whole file in memory, and still asks for more
        return {words::said("is truncated, or is not a raw file")};
    case LIBRAW_FILE_UNSUPPORTED:
        return {words::said("is neither a raw file that can be read nor a picture in TIFF, PNG or JPEG")};
    case LIBRAW_DATA_ERROR:
        return {"is damaged"};
    default:
        return words::Phrase(libraw_strerror(code));
    }
}

Result<RawFrame> decodeRaw(std::shared_ptr<const MappedFile> file, const std::string &name, bool byLibrary)
{
    try {
        return decode(std::move(file), name, byLibrary);
    } catch (const std::bad_alloc &) {
        throw; // openHere() says it
    } catch (
        const std::exception &fault) { // the raw library throws its own types, all of them from here or none
        return unusable("{file}: {why}", {{"file", name}, {"why", fault.what()}});
    } catch (...) {
        return unusable("{file}: is damaged", {{"file", name}});
    }
}

} // namespace wavechroma::raw
