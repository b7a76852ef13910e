#include "core/raw/decoders.h"

#include <algorithm>
#include <cstring>

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

Result<RawFrame> openRendered(const raw::MappedFile &file, Kind kind, const std::string &name)
{
    const auto bytes = file.bytes();
    auto coded = kind == Kind::Jpeg  ? raw::decodeJpeg(bytes, name)
                 : kind == Kind::Png ? raw::decodePng(bytes, name)
                                     : raw::decodeTiff(bytes, name);
    if (!coded)
        return coded.error();
    auto linear = raw::linearise(*coded, name);
    if (!linear)
        return linear.error();
    RawFrame frame;
    frame.path = name;
    frame.width = coded->width;
    frame.height = coded->height;
    frame.rendered = true;
    frame.fileColor.xyzD50FromRendered = linear->xyzD50FromRgb;
    frame.picture = std::make_shared<LinearPicture>(std::move(linear->picture));
    return frame;
}

/// TIFF files say in their first directory whether they hold a rendered picture; a mosaic, a DNG version or a
/// maker's compression makes them raw.
bool isRenderedTiff(std::span<const uint8_t> b)
{
    const bool little = b[0] == 'I';
    const auto word = [&](size_t at, size_t bytes) {
        size_t value = 0;
        for (size_t i = 0; i < bytes; ++i)
            value |= size_t(b[at + (little ? i : bytes - 1 - i)]) << (8 * i);
        return value;
    };
    if (b.size() < 16)
        return true;
    const size_t directory = word(4, 4);
    if (directory + 2 > b.size())
        return true;
    const size_t count = word(directory, 2);
    size_t photometric = 0, subfile = 0;
    bool hasDngVersion = false, hasSubDirectories = false;
    for (size_t i = 0; i < count; ++i) {
        const size_t entry = directory + 2 + 12 * i;
        if (entry + 12 > b.size())
            break;
        const size_t tag = word(entry, 2);
        if (tag == 262)
            photometric = word(entry + 8, 2);
        else if (tag == 254)
            subfile = word(entry + 8, 4);
        else if (tag == 330)
            hasSubDirectories = true;
        else if (tag == 50706)
            hasDngVersion = true;
    }
    return !hasDngVersion && subfile == 0 && !hasSubDirectories && (photometric == 1 || photometric == 2);
}

} // namespace

Result<RawFrame> openFrame(const std::filesystem::path &path)
{
    const std::string name = path.string();
    auto file = raw::MappedFile::open(path);
    if (!file)
        return file.error();
    const auto bytes = (*file)->bytes();
    const Kind kind = kindOf(bytes);
    const bool rendered =
        kind == Kind::Jpeg || kind == Kind::Png || (kind == Kind::Tiff && isRenderedTiff(bytes));
    auto frame = rendered ? openRendered(**file, kind, name) : raw::decodeRaw(*file, name);
    if (!frame)
        return frame.error();
    raw::fillFromExif(bytes, frame->camera, frame->rendered ? &frame->orientation : nullptr);
    if (frame->camera.uniqueModel.empty())
        frame->camera.uniqueModel =
            frame->camera.make.empty() ? frame->camera.model : frame->camera.make + " " + frame->camera.model;
    return frame;
}

} // namespace wavechroma
