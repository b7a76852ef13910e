#include "core/raw/library_picture.h"

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

Result<RawFrame> pictureByLibrary(const RawFrame &frame)
{
    const auto fail = [&](const std::string &why) {
        return unusable("{file}: {why}", {{"file", frame.path}, {"why", why}});
    };
    try {
        LibRaw raw;
        askForPlainLight(raw.imgdata.params);
        for (const auto &step : {raw.open_file(frame.path.c_str()), raw.unpack(), raw.dcraw_process()})
            if (step != LIBRAW_SUCCESS)
                return fail(libraw_strerror(step));
        const auto &sizes = raw.imgdata.sizes;
        if (!raw.imgdata.image || sizes.iwidth != frame.width || sizes.iheight != frame.height)
            return fail("its filter is one that no demosaic is known for");
        const auto picture = std::make_shared<LinearPicture>();
        const size_t count = size_t(frame.width) * size_t(frame.height);
        picture->codes.resize(count * 3);
        for (size_t i = 0; i < count; ++i)
            for (size_t c = 0; c < 3; ++c)
                picture->codes[i * 3 + c] = raw.imgdata.image[i][c];
        for (auto &light : picture->light) {
            light.resize(65536);
            for (size_t code = 0; code < light.size(); ++code)
                light[code] = float(code) / 65535;
        }
        picture->saturation = 0.998F;
        RawFrame out = frame;
        out.mosaic.reset();
        out.memory.reset();
        out.picture = picture;
        return out;
    } catch (...) { // the library's own types
        return fail("the raw library gave up");
    }
}

} // namespace wavechroma
