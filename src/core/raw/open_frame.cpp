#include "core/raw/open_frame.h"
#include "core/base/shown_text.h"
#include "core/color/rgb_space.h"
#include "core/raw/decode_dng.h"
#include "core/raw/decoders.h"
#include "core/raw/picture_codes.h"
#include "core/raw/reader_calls.h"
#include "core/raw/tiff_directory.h"

#include <algorithm>
#include <cmath>
#include <cstring>
#include <initializer_list>
#include <new>
#include <system_error>

namespace wavechroma {

namespace {

enum class Kind { Jpeg, Png, Tiff, Other };

/// By content, never by extension. Raw files are often TIFF inside, so the raw library is asked first for
/// those.
Kind kindOf(std::span<const uint8_t> b)
{
    const auto starts = [&](std::initializer_list<uint8_t> magic) {
        return b.size() >= magic.size() && std::equal(magic.begin(), magic.end(), b.begin());
    };
    if (starts({0xFF, 0xD8, 0xFF}))
        return Kind::Jpeg;
    if (starts({0x89, 'P', 'N', 'G'}))
        return Kind::Png;
    if (starts({'I', 'I', 42, 0}) || starts({'M', 'M', 0, 42}) || starts({'I', 'I', 43, 0}))
        return Kind::Tiff;
    return Kind::Other;
}

/// What a file is that is neither raw nor a picture that is read; null where nothing tells.
const char *otherKindOf(std::span<const uint8_t> b)
{
    const auto has = [&](size_t at, std::string_view magic) {
        return b.size() >= at + magic.size() && std::memcmp(b.data() + at, magic.data(), magic.size()) == 0;
    };
    return has(0, "RIFF") && has(8, "WEBP")                          ? "a WebP picture"
           : has(0, "GIF8")                                          ? "a GIF picture"
           : has(0, "8BPS")                                          ? "a layered picture document"
           : has(0, "%PDF")                                          ? "a PDF document"
           : has(4, "ftyphei") || has(4, "ftypmif1")                 ? "a HEIF picture"
           : has(4, "ftypavif")                                      ? "an AVIF picture"
           : has(0, "v/1\x01")                                       ? "an OpenEXR picture"
           : has(0, "BM") && has(6, std::string_view("\0\0\0\0", 4)) ? "a BMP picture"
                                                                     : nullptr;
}

/// Codes as they are; the frame gets the facts.
Result<raw::CodedPicture> codedPicture(const raw::MappedFile &file, Kind kind, const std::string &name,
                                       RawFrame &frame)
{
    const auto bytes = file.bytes();
    const auto spaceOfExif = raw::fillFromExif(bytes, frame.camera, &frame.orientation);
    file.passed(bytes.size()); // which may have been walked through for it
    auto coded = kind == Kind::Jpeg  ? raw::decodeJpeg(bytes, name)
                 : kind == Kind::Png ? raw::decodePng(file, name)
                                     : raw::decodeTiff(file, name);
    if (coded && !coded->space)
        coded->space = spaceOfExif;
    if (coded) {
        frame.path = name;
        frame.width = coded->width;
        frame.height = coded->height;
        frame.rendered = true;
        frame.camera.isRendered = true;
    }
    return coded;
}

Result<RawFrame> openRendered(const raw::MappedFile &file, Kind kind, const std::string &name,
                              const std::string &assume)
{
    RawFrame frame;
    auto coded = codedPicture(file, kind, name, frame);
    if (!coded)
        return coded.error();
    const bool isAssumed = coded->iccProfile.empty() && !coded->space;
    auto linear = raw::linearise(std::move(*coded), name, assume);
    if (!linear)
        return linear.error();
    frame.fileColor.xyzD50FromRendered = linear->xyzD50FromRgb;
    frame.fileColor.renderedCodes = std::move(linear->codes);
    if (isAssumed)
        frame.assumedSpace = rgbSpaceFromId(assume)->title;
    frame.picture = std::make_shared<LinearPicture>(std::move(linear->picture));
    return frame;
}

/// TIFF files say in their first directory whether they hold a rendered picture; a mosaic, a DNG version or a
/// maker's compression makes them raw.
bool isRenderedTiff(std::span<const uint8_t> b)
{
    constexpr uint16_t kSubfile = 254, kPhotometric = 262, kSubDirectories = 330, kDngVersion = 50706;
    const auto directory = tiffDirectoryOf(b);
    if (!directory)
        return true; // the picture library says what is wrong with it
    const auto value = [&](uint16_t id, int size) {
        const auto *entry = directory->find(id);
        return entry ? directory->order.get(b, entry->at + 8, size) : 0;
    };
    const auto photometric = value(kPhotometric, 2);
    return !directory->find(kDngVersion) && value(kSubfile, 4) == 0 && !directory->find(kSubDirectories) &&
           (photometric == 1 || photometric == 2);
}

/// Does the directory's filter name colours beyond red, green and blue (DNG: 0, 1, 2)?
bool namesOtherColours(std::span<const uint8_t> b, const TiffDirectory &directory)
{
    constexpr uint16_t kPattern = 33422;
    const auto *entry = directory.find(kPattern);
    if (!entry || entry->count != 4) // larger ones stand elsewhere
        return false;
    const auto colours = b.subspan(entry->at + 8, 4);
    return std::any_of(colours.begin(), colours.end(), [](uint8_t c) { return c > 2; });
}

/// The raw library takes cyan, magenta and yellow for red, green and blue without a word. A DNG's mosaic
/// stands in the first directory or in one right below it.
bool hasOtherFilter(std::span<const uint8_t> b)
{
    constexpr uint16_t kSubDirectories = 330;
    constexpr uint32_t kMost = 16;
    const auto first = tiffDirectoryOf(b);
    if (!first)
        return false;
    if (namesOtherColours(b, *first))
        return true;
    uint32_t looked = 0;
    for (const auto &below : first->entries) { // more than one of a kind is no rule, but the library follows
        if (below.id != kSubDirectories)
            continue;
        const size_t list = below.count == 1 ? below.at + 8 : first->order.get(b, below.at + 8, 4);
        for (size_t i = 0; i < below.count && looked < kMost && list + 4 * i + 4 <= b.size(); ++i, ++looked) {
            const auto directory = tiffDirectoryAt(b, first->order, first->order.get(b, list + 4 * i, 4));
            if (directory && namesOtherColours(b, *directory))
                return true;
        }
    }
    return false;
}

} // namespace

static bool isRenderedPicture(Kind kind, std::span<const uint8_t> bytes)
{
    return kind == Kind::Jpeg || kind == Kind::Png || (kind == Kind::Tiff && isRenderedTiff(bytes));
}

static Result<RawFrame> decoded(const std::shared_ptr<const raw::MappedFile> &file, const std::string &name,
                                const std::string &assume)
{
    const auto bytes = file->bytes();
    const Kind kind = kindOf(bytes);
    const bool rendered = isRenderedPicture(kind, bytes);
    if (const char *other = kind == Kind::Other ? otherKindOf(bytes) : nullptr)
        return unusable(
            "{file}: is {kind}; raw files and RGB or grey pictures in TIFF, PNG and JPEG are read",
            {{"file", name}, {"kind", words::Phrase{other}}});
    if (!rendered && kind == Kind::Tiff && hasOtherFilter(bytes))
        return unusable("{file}: its colour filter pattern is not red, green and blue", {{"file", name}});
    auto frame = rendered ? openRendered(*file, kind, name, assume) : raw::decodeRaw(file, name);
    if (!frame && kind == Kind::Tiff && !rendered &&
        !raw::hasDngVersion(bytes)) // no raw file: the picture library says what it is
        if (const auto picture = raw::decodeTiff(*file, name); !picture && !file->hasChanged())
            return picture.error();
    if (!frame)
        return frame.error();
    if (!rendered)
        raw::fillFromExif(bytes, frame->camera, nullptr);
    auto &camera = frame->camera; // anything may stand in a file
    for (auto *text :
         {&camera.make, &camera.model, &camera.uniqueModel, &camera.serial, &camera.lens, &camera.capturedAt})
        *text = oneLine(*text);
    if (frame->camera.uniqueModel.empty())
        frame->camera.uniqueModel =
            frame->camera.make.empty() ? frame->camera.model : frame->camera.make + " " + frame->camera.model;
    return frame;
}

void raw::keepFinite(RawFrame &frame)
{
    const auto isFinite = [](const auto &values) {
        return std::all_of(values.begin(), values.end(), [](double v) { return std::isfinite(v); });
    };
    const auto isMatrix = [&](const Matrix3 &m) {
        return std::all_of(m.rows.begin(), m.rows.end(), isFinite);
    };
    for (auto *number :
         {&frame.camera.iso, &frame.camera.exposureSeconds, &frame.camera.fNumber, &frame.camera.focalMm})
        if (!std::isfinite(*number) || *number < 0)
            *number = 0;
    auto &color = frame.fileColor;
    std::erase_if(color.matrices, [&](const FileColorMatrix &m) { return !isMatrix(m.cameraFromXyz); });
    for (auto &m : color.matrices)
        if (m.illuminantCode < 0 || m.illuminantCode > 65535)
            m.illuminantCode = 0;
    if (color.asShotNeutral && !isFinite(*color.asShotNeutral))
        color.asShotNeutral.reset();
    if (color.xyzD50FromRendered && !isMatrix(*color.xyzD50FromRendered))
        color.xyzD50FromRendered.reset();
}

/// In the form of a reader's message: the codes, none of the light that they stand for, and the largest code
/// in place of the light that is clipped.
static Result<RawFrame> codesOnly(const raw::MappedFile &file, const std::string &name,
                                  const std::string &assume)
{
    const Kind kind = kindOf(file.bytes());
    if (!isRenderedPicture(kind, file.bytes()))
        return unusable("{file}: is not a rendered picture in TIFF, PNG or JPEG", {{"file", name}});
    RawFrame frame;
    auto coded = codedPicture(file, kind, name, frame);
    if (!coded)
        return coded.error();
    if (coded->leaves)
        return unusable("{file}: has {what}, which would be lost",
                        {{"file", name}, {"what", words::Phrase{coded->leaves}}});
    if (coded->channels != 3)
        return unusable("{file}: is a grey picture, which has no colours to change", {{"file", name}});
    if (coded->iccProfile.empty() && !coded->space)
        frame.assumedSpace = rgbSpaceFromId(assume)->title;
    raw::CodedPicture profile; // what its profile says, asked of a picture of one pixel
    profile.width = profile.height = 1;
    profile.channels = 3;
    profile.codes = Samples(3);
    profile.iccProfile = coded->iccProfile;
    profile.space = coded->space;
    if (const auto linear = raw::linearise(std::move(profile), name, assume);
        linear && !linear->codes.empty()) {
        frame.fileColor.xyzD50FromRendered = linear->xyzD50FromRgb;
        frame.fileColor.renderedCodes = linear->codes;
    }
    const std::vector<float> none{0};
    frame.picture = std::make_shared<LinearPicture>(
        LinearPicture{3, std::move(coded->codes), {none, none, none}, float(coded->maxCode)});
    return frame;
}

Result<RawFrame> raw::pictureCodesHere(const MappedFile &file, const std::string &name,
                                       const std::string &assume)
{
    try {
        return codesOnly(file, name, assume);
    } catch (const std::exception &) { // of memory that is bounded, as below
        return unusable("{file}: could not be read: it needs more memory than it is allowed",
                        {{"file", name}});
    }
}

Result<PictureCodes> pictureCodes(const std::filesystem::path &path, const std::string &assume)
{
    const std::string name = path.string();
    const auto file = raw::MappedFile::open(path);
    if (!file)
        return file.error();
    const auto elsewhere = raw::readElsewhere(raw::ReaderStep::PictureCodes, *file, name, assume);
    auto frame = elsewhere ? *elsewhere : raw::pictureCodesHere(**file, name, assume);
    if ((*file)->hasChanged())
        return unusable("{file}: could not be read: it changed while it was read", {{"file", name}});
    if (!frame)
        return frame.error();
    const auto kind = kindOf((*file)->bytes());
    const auto format = kind == Kind::Jpeg  ? PictureCodes::Format::Jpeg
                        : kind == Kind::Png ? PictureCodes::Format::Png
                                            : PictureCodes::Format::Tiff;
    const int maxCode = frame->picture->saturation > 255 ? 65535 : 255;
    return PictureCodes{format,         frame->width,     frame->height,      maxCode,
                        frame->picture, frame->fileColor, frame->assumedSpace};
}

Result<RawFrame> raw::openHere(const std::shared_ptr<const MappedFile> &file, const std::string &name,
                               const std::string &assume)
{
    try {
        auto frame = decoded(file, name, assume);
        if (frame)
            keepFinite(*frame);
        if (file->hasChanged()) // which may be why it could not be read, too
            return unusable("{file}: could not be read: it changed while it was read", {{"file", name}});
        return frame;
    } catch (const std::system_error &fault) {
        // what a reader unpacks lies in files in memory, which are bounded like memory
        return unusable("{file}: could not be read: it needs more memory than it is allowed ({why})",
                        {{"file", name}, {"why", fault.code().message()}});
    } catch (const std::bad_alloc &) {
        return unusable("{file}: could not be read: it needs more memory than there is", {{"file", name}});
    }
}

Result<RawFrame> openFrame(const std::filesystem::path &path, const std::string &assume)
{
    const std::string name = path.string();
    const auto file = raw::MappedFile::open(path);
    if (!file)
        return file.error();
    const auto elsewhere = raw::readElsewhere(raw::ReaderStep::Open, *file, name, assume);
    auto frame = elsewhere ? *elsewhere : raw::openHere(*file, name, assume);
    if ((*file)->hasChanged())
        return unusable("{file}: could not be read: it changed while it was read", {{"file", name}});
    if (!frame)
        return frame;
    frame->path = name;
    if (frame->mosaic) // whose samples may lie in the file itself; what is read of it later has to be of the
                       // same
        frame->hasChanged = [mapped = *file] { return mapped->hasChanged(); };
    return frame;
}

Result<Done> stillWhole(const RawFrame &frame)
{
    if (frame.hasChanged && frame.hasChanged())
        return unusable("{file}: could not be read: it changed while it was read", {{"file", frame.path}});
    return Done{};
}

} // namespace wavechroma
