// Peak memory of opening a frame file and measuring over all of it, by kind of file, in bytes a pixel over a
// program that does nothing; each in a process of its own. A mapped file's own pages count as well.
// wavechroma-bench-memory [megapixels] [folder]
#include "core/capture/frame_levels.h"
#include "core/formats/dng_frame.h"
#include "core/formats/picture_file.h"
#include "core/raw/open_frame.h"
#include "core/sim/random.h"

#include <chrono>
#include <cstdlib>
#include <fmt/format.h>
#include <functional>
#include <sys/resource.h>
#include <sys/wait.h>
#include <unistd.h>

using namespace wavechroma;
namespace fs = std::filesystem;

namespace {

struct Peak
{
    double bytes = 0, seconds = 0;
    bool isFine = false;
};

/// What `work` takes at most, in a child process.
template <typename Work> Peak peakOf(const Work &work)
{
    const auto begun = std::chrono::steady_clock::now();
    const pid_t child = fork();
    if (child == 0)
        _exit(work() ? 0 : 1);
    int status = 0;
    rusage used{};
    wait4(child, &status, 0, &used);
    const std::chrono::duration<double> took = std::chrono::steady_clock::now() - begun;
    return {double(used.ru_maxrss) * 1024, took.count(), WIFEXITED(status) && WEXITSTATUS(status) == 0};
}

/// A slope with noise, so that nothing packs better than in photographs.
bool writePicture(const fs::path &file, PictureFormat format, bool deflate, int width, int height)
{
    PictureFacts facts{format, width, height, *rgbSpaceFromId("srgb"), {}, 0, deflate, 92};
    auto picture = PictureFile::begin(file, facts, true);
    if (!picture)
        return false;
    sim::Random random(1);
    std::vector<uint16_t> row(size_t(width) * 3);
    for (int y = 0; y < height; ++y) {
        for (size_t i = 0; i < row.size(); ++i)
            row[i] = uint16_t(20000 + 20000 * i / row.size() + random.below(600));
        if (!(*picture)->add(row.data(), 1))
            return false;
    }
    return bool((*picture)->finish());
}

bool writeRaw(const fs::path &file, DngPacking packing, int width, int height)
{
    sim::Random random(2);
    std::vector<uint16_t> samples(size_t(width) * size_t(height));
    for (auto &sample : samples)
        sample = uint16_t(4000 + random.below(300));
    DngFrame frame;
    frame.width = width;
    frame.height = height;
    frame.samples = samples;
    frame.filter = {0, 1, 1, 2};
    frame.black = 512;
    frame.white = 15000;
    frame.camera.make = "Skerrow";
    frame.camera.model = "Tarn 2";
    frame.colorMatrix = Matrix3{{{{0.9, -0.2, -0.1}, {-0.4, 1.2, 0.2}, {-0.1, 0.2, 0.7}}}};
    frame.asShotNeutral = {0.5, 1, 0.6};
    return bool(writeWhole({{file, dngFileOf(frame, packing)}}));
}

} // namespace

int main(int argc, char **argv)
{
    const double megapixels = argc > 1 ? std::atof(argv[1]) : 100;
    const fs::path folder = argc > 2 ? fs::path(argv[2]) : fs::temp_directory_path() / "wavechroma-memory";
    fs::create_directories(folder);
    const int width = int(std::sqrt(megapixels * 1.5e6)) / 4 * 4, height = width / 3 * 2 / 4 * 4;
    const struct
    {
        const char *title, *name;
        std::function<bool(const fs::path &)> write;
    } kinds[] = {
        {"raw, unpacked", "plain.dng",
         [&](const fs::path &f) { return writeRaw(f, DngPacking::None, width, height); }},
        {"raw, packed without loss", "packed.dng",
         [&](const fs::path &f) { return writeRaw(f, DngPacking::LosslessJpeg, width, height); }},
        {"TIFF, 16 bits", "plain.tif",
         [&](const fs::path &f) { return writePicture(f, PictureFormat::Tiff16, false, width, height); }},
        {"TIFF, 16 bits, deflate", "deflate.tif",
         [&](const fs::path &f) { return writePicture(f, PictureFormat::Tiff16, true, width, height); }},
        {"PNG, 16 bits", "picture.png",
         [&](const fs::path &f) { return writePicture(f, PictureFormat::Png16, false, width, height); }},
        {"JPEG", "picture.jpg",
         [&](const fs::path &f) { return writePicture(f, PictureFormat::Jpeg, false, width, height); }},
    };
    const double idle = peakOf([] { return true; }).bytes;
    fmt::print("{} × {} pixels\n{:<28}{:>12}{:>16}{:>10}\n", width, height, "", "file, MB", "bytes a pixel",
               "s");
    for (const auto &kind : kinds) {
        const auto file = folder / kind.name;
        if (!peakOf([&] { return kind.write(file); }).isFine)
            return 1;
        const auto peak = peakOf([&] {
            const auto frame = openFrame(file);
            return frame && frameLevels(*frame).width > 0;
        });
        fmt::print("{:<28}{:>12.0f}{:>16.2f}{:>10.1f}{}\n", kind.title, double(fs::file_size(file)) / 1e6,
                   (peak.bytes - idle) / (double(width) * height), peak.seconds,
                   peak.isFine ? "" : "  could not be read");
        fs::remove(file);
    }
    fs::remove(folder);
}
