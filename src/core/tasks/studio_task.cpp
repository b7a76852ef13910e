#include "core/tasks/studio_task.h"

#include "core/formats/dng_frame.h"

#include <cctype>
#include <fmt/format.h>

namespace wavechroma {

namespace fs = std::filesystem;

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
    const DngFrame dng{frame.width,
                       frame.height,
                       frame.samples,
                       frame.filter,
                       frame.black,
                       frame.white,
                       frame.camera,
                       frame.colorMatrix,
                       frame.asShotNeutral,
                       frame.orientation,
                       "Harbour Row, made by the simulated studio"};
    return writeWhole({{file, dngFileOf(dng)}});
}

fs::path nextOnRoll(const fs::path &folder, const std::string &camera)
{
    std::string prefix = camera.substr(0, 2);
    for (auto &c : prefix)
        c = char(std::toupper(static_cast<unsigned char>(c)));
    for (int number = 1;; ++number) {
        auto file = folder / fmt::format("{}_{:04}.dng", prefix, number);
        if (std::error_code code; !fs::exists(file, code))
            return file;
    }
}

} // namespace wavechroma
