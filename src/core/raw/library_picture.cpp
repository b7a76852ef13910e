#include "core/raw/library_picture.h"

#include "core/raw/reader_calls.h"

#include <libraw/libraw.h>

namespace wavechroma {

namespace {

void askForPlainLight(libraw_output_params_t &ask)
{
    ask.output_bps = 16;
    ask.gamm[0] = ask.gamm[1] = 1;
    ask.no_auto_bright = 1;
    ask.adjust_maximum_thr = 0;
    for (auto &multiplier : ask.user_mul)
        multiplier = 1;
    ask.output_color = 0; // the camera's own
    ask.highlight = 1;    // nothing is cut
    ask.user_flip = 0;
}

} // namespace

Result<RawFrame> raw::libraryPictureHere(const MappedFile &file, const std::string &name)
{
    const auto fail = [&](const words::Phrase &why) {
        return unusable("{file}: {why}", {{"file", name}, {"why", why}});
    };
    try {
        LibRaw raw;
        askForPlainLight(raw.imgdata.params);
        const auto bytes = file.bytes();
        if (const int code = raw.open_buffer(const_cast<uint8_t *>(bytes.data()), bytes.size());
            code != LIBRAW_SUCCESS)
            return fail(libraryFault(code));
        for (const auto &step : {raw.unpack(), raw.dcraw_process()})
            if (step != LIBRAW_SUCCESS)
                return fail(libraryFault(step));
        const auto &sizes = raw.imgdata.sizes;
        const size_t count = size_t(sizes.iwidth) * sizes.iheight;
        if (!raw.imgdata.image || count == 0 || count > kMostPixels)
            return fail(words::Phrase{"its filter has no known demosaic"});
        const auto picture = std::make_shared<LinearPicture>();
        picture->codes = Samples(count * 3);
        for (size_t i = 0; i < count; ++i)
            for (size_t c = 0; c < 3; ++c)
                picture->codes[i * 3 + c] = raw.imgdata.image[i][c];
        for (auto &light : picture->light) {
            light.resize(65536);
            for (size_t code = 0; code < light.size(); ++code)
                light[code] = float(code) / 65535;
        }
        picture->saturation = 0.998F;
        RawFrame out;
        out.width = sizes.iwidth;
        out.height = sizes.iheight;
        out.picture = picture;
        return out;
    } catch (...) { // the library's own types
        return fail(words::Phrase{"the raw library failed"});
    }
}

Result<RawFrame> pictureByLibrary(const RawFrame &frame)
{
    const auto file = raw::MappedFile::open(frame.path);
    if (!file)
        return file.error();
    const auto elsewhere = raw::readElsewhere(raw::ReaderStep::LibraryPicture, *file, frame.path, {});
    const auto picture = elsewhere ? *elsewhere : raw::libraryPictureHere(**file, frame.path);
    if (!picture)
        return picture;
    if (picture->width != frame.width || picture->height != frame.height)
        return unusable("{file}: its filter has no known demosaic", {{"file", frame.path}});
    RawFrame out = frame;
    out.mosaic.reset();
    out.memory.reset();
    out.picture = picture->picture;
    return out;
}

} // namespace wavechroma
