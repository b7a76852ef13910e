#include "core/tasks/studio_task.h"

#include "core/base/letters.h"
#include "core/formats/dng_frame.h"
#include "core/formats/small_jpeg.h"
#include "core/render/display_picture.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <cmath>
#include <fmt/format.h>
#include <system_error>

namespace wavechroma {

namespace fs = std::filesystem;

namespace {

/// The simulated camera's own picture of a frame: by its published matrix, and with more contrast than the
/// light had, as cameras like theirs.
void addPreview(DngFrame &dng)
{
    constexpr int kLongSide = 1200;
    const auto mosaic = std::make_shared<Mosaic>();
    mosaic->samples = dng.samples.data();
    mosaic->rowStride = dng.width;
    mosaic->channel.assign(dng.filter.begin(), dng.filter.end());
    mosaic->black.assign(4, float(dng.black));
    mosaic->white = float(dng.white);
    RawFrame frame;
    frame.width = dng.width;
    frame.height = dng.height;
    frame.camera = dng.camera;
    frame.fileColor.matrices = {{dng.colorMatrix, 21}};
    frame.fileColor.asShotNeutral = dng.asShotNeutral;
    frame.mosaic = mosaic;
    const int longest = std::max(dng.width, dng.height);
    auto picture = displayPicture(frame, displayColorOf(frame), (longest + kLongSide - 1) / kLongSide);
    std::array<uint8_t, 256> bent{};
    for (size_t i = 0; i < bent.size(); ++i) {
        const double v = double(i) / 255, steep = v * v * (3 - 2 * v);
        bent[i] = uint8_t(std::lround(255 * (0.6 * v + 0.4 * steep)));
    }
    for (auto &pixel : picture.rgb)
        pixel = uint32_t(bent[pixel >> 16 & 255]) << 16 | uint32_t(bent[pixel >> 8 & 255]) << 8 |
                bent[pixel & 255];
    if (auto jpeg = smallJpegOf(picture.rgb, picture.width, picture.height)) {
        dng.preview = std::move(*jpeg);
        dng.previewWidth = picture.width;
        dng.previewHeight = picture.height;
    }
}

} // namespace

Result<Done> shootToFile(const sim::StudioSettings &settings, const fs::path &file, const Progress &progress)
{
    sim::SimFrame frame;
    try {
        frame = sim::shootStudio(settings, progress);
    } catch (const std::exception &fault) {
        return unusable("{file}: {why}", {{"file", file.string()}, {"why", fault.what()}});
    }
    if (progress.stopped())
        return unusable("{file}: stopped", {{"file", file.string()}});
    DngFrame dng{frame.width,
                 frame.height,
                 frame.samples,
                 {frame.filter.begin(), frame.filter.end()},
                 frame.black,
                 frame.white,
                 frame.camera,
                 frame.colorMatrix,
                 frame.asShotNeutral,
                 frame.orientation,
                 "Harbour Row, made by the simulated studio"};
    addPreview(dng);
    return writeWhole({{file, dngFileOf(dng)}});
}

fs::path nextOnRoll(const fs::path &folder, const std::string &camera)
{
    const std::string prefix = letters::upper(camera.substr(0, 2));
    for (int number = 1;; ++number) {
        auto file = folder / fmt::format("{}_{:04}.dng", prefix, number);
        if (std::error_code code; !fs::exists(file, code))
            return file;
    }
}

} // namespace wavechroma
