// Speed against the plain library in the same run: `read` as a whole process to LibRaw's own open + unpack of
// the same 24-megapixel file, plain and lossless-JPEG packed; then the fit, one step of dragging a corner,
// and one step of the lean on the open frame.
#include "bench/guard.h"
#include "core/fit/fit.h"
#include "core/formats/dng_frame.h"
#include "core/formats/lossless_jpeg.h"
#include "core/formats/tag_directory.h"
#include "core/formats/whole_file.h"
#include "core/measure/find_chart.h"
#include "core/raw/open_frame.h"
#include "core/raw/overview.h"
#include "core/sim/expose.h"
#include "core/sim/reflectance.h"
#include "core/tasks/job_task.h"
#include "core/tasks/look_task.h"
#include "core/tasks/place_task.h"
#include "core/tasks/prove_task.h"

#include <algorithm>
#include <bit>
#include <chrono>
#include <cstdlib>
#include <fmt/format.h>
#include <functional>
#include <libraw/libraw.h>
#include <spawn.h>
#include <sys/resource.h>
#include <sys/wait.h>

using namespace wavechroma;
namespace fs = std::filesystem;

namespace {

double millisecondsOf(const std::function<void()> &work)
{
    const auto start = std::chrono::steady_clock::now();
    work();
    return std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start).count();
}

/// Of this process, all its threads, and its ended children.
double processorMilliseconds()
{
    double sum = 0;
    for (const int who : {RUSAGE_SELF, RUSAGE_CHILDREN}) {
        rusage used{};
        getrusage(who, &used);
        for (const auto &t : {used.ru_utime, used.ru_stime})
            sum += double(t.tv_sec) * 1e3 + double(t.tv_usec) / 1e3;
    }
    return sum;
}

struct Times
{
    double least = 0, median = 0;
    double processor = 0; ///< the least
};

Times timed(int rounds, const std::function<void()> &work)
{
    std::vector<double> all, processor;
    for (int i = 0; i < rounds; ++i) {
        const double before = processorMilliseconds();
        all.push_back(millisecondsOf(work));
        processor.push_back(processorMilliseconds() - before);
    }
    std::sort(all.begin(), all.end());
    return {all.front(), all[all.size() / 2], *std::min_element(processor.begin(), processor.end())};
}

sim::SimFrame tableFrame()
{
    sim::Scene scene;
    scene.background = sim::addMaterial(scene, *sim::reflectanceOf({70, 2, 8}, 3), 0.05, 9);
    sim::PrintedChart printed;
    printed.chart = chartCatalogue().front();
    for (const auto &r : sim::chartReflectances(printed.chart))
        printed.patchMaterials.push_back(sim::addMaterial(scene, r));
    printed.frameMaterial = sim::addMaterial(scene, sim::flatReflectance(0.03));
    printed.corners = sim::cornersAt(printed.chart, {{3000, 2000}, 2600, 12, 15, -10, 5});
    scene.things.push_back(printed);
    return sim::expose(scene, sim::camera("Tarn 2"), sim::lamp("strobe"), {});
}

void librawOpenUnpack(const fs::path &file)
{
    LibRaw raw;
    if (raw.open_file(file.c_str()) != LIBRAW_SUCCESS || raw.unpack() != LIBRAW_SUCCESS)
        std::abort();
}

void cliRead(const fs::path &cli, const fs::path &file, const fs::path &output)
{
    std::string program = cli.string(), command = "read", image = file.string(), flag = "-o",
                target = output.string();
    char *arguments[] = {program.data(), command.data(), image.data(), flag.data(), target.data(), nullptr};
    pid_t child = 0;
    int status = 0;
    if (posix_spawn(&child, program.c_str(), nullptr, nullptr, arguments, environ) != 0 ||
        waitpid(child, &status, 0) != child || status != 0)
        std::abort();
}

/// How long our process takes against opening and unpacking alone: the ratio of the medians.
double compareRead(const char *name, const fs::path &cli, const fs::path &file)
{
    librawOpenUnpack(file); // once, for the file cache
    const auto ours = timed(9, [&] { cliRead(cli, file, file.parent_path() / "reading.json"); });
    const auto theirs = timed(9, [&] { librawOpenUnpack(file); });
    fmt::print("read, {}: {:.0f} ms as a process, LibRaw open + unpack {:.0f} ms, ratio {:.2f} "
               "(medians {:.2f}); of processor time {:.0f} and {:.0f} ms, {:.2f}\n",
               name, ours.least, theirs.least, ours.least / theirs.least, ours.median / theirs.median,
               ours.processor, theirs.processor, ours.processor / theirs.processor);
    return ours.median / theirs.median;
}

/// A step of the lean as the window takes it (FrameEditor::leanColour): laid over what was fitted, proved,
/// its colour as a table, the open frame through it (what the screen shows first, then the full size).
/// Nothing is fitted or decoded again.
void leanSteps(const fs::path &file, const Reading &reading, const Parts &parts)
{
    constexpr int kOnScreen = 2000; // what is larger follows after
    const auto open = *openedWhole(*openToLook(file, {}));
    FitRequest request;
    request.sha256 = std::string(64, '0');
    request.ask.parts = parts;
    request.preview = true;
    auto calibrations = passFrom(reading, request).calibrations;
    const auto turned = [&](bool large) {
        for (auto &calibration : calibrations) {
            calibration.lean.chroma = calibration.lean.chroma % 4 + 1;
            if (!proveReading(calibration, reading))
                std::abort();
        }
        const auto color = shownBy(*open.frame, &calibrations.front(), {});
        for (const auto &level : open.levels)
            if ((std::max(level.width, level.height) > kOnScreen) == large)
                (void)lookOf(level, color);
    };
    const auto seen = timed(21, [&] { turned(false); }), large = timed(9, [&] { turned(true); });
    fmt::print(
        "a step of the lean on the open 24 MP frame, {}/{}: {:.1f} ms to the screen, {:.1f} ms at full "
        "size (medians {:.1f}, {:.1f})\n",
        parts.colour, parts.tone, seen.least, large.least, seen.median, large.median);
}

/// What the window does with a frame of 45 megapixels: from the file to the first picture (the sizes that a
/// fitted view shows), a screenful of true pixels at 100 %, and these in another colour.
void largeFrame(const fs::path &folder, const fs::path &cli)
{
    constexpr int kWidth = 8192, kHeight = 5504;
    const auto part = tableFrame();
    std::vector<uint16_t> samples(size_t(kWidth) * kHeight);
    for (int y = 0; y < kHeight; ++y)
        for (int x = 0; x < kWidth; ++x)
            samples[size_t(y) * kWidth + size_t(x)] =
                part.samples[size_t(y % (part.height / 2 * 2)) * size_t(part.width) +
                             size_t(x % (part.width / 2 * 2))];
    const DngFrame dng{kWidth,
                       kHeight,
                       samples,
                       {part.filter.begin(), part.filter.end()},
                       part.black,
                       part.white,
                       part.camera,
                       part.colorMatrix,
                       part.asShotNeutral,
                       1,
                       ""};
    for (const auto &[name, packing] :
         {std::pair{"plain", DngPacking::None}, {"packed", DngPacking::LosslessJpeg}}) {
        const auto file = folder / (std::string("large-") + name + ".dng");
        if (!writeWhole({{file, dngFileOf(dng, packing)}}))
            std::abort();
        compareRead((std::string(name) + ", 45 MP").c_str(), cli, file);
        const auto first = timed(5, [&] {
            const auto open = *openToLook(file, {});
            const auto color = shownBy(*open.frame, nullptr, {});
            for (const auto &level : open.levels)
                if (std::max(level.width, level.height) <= 2100)
                    (void)lookOf(level, color);
        });
        fmt::print("a frame of 45 MP, {}: {:.0f} ms from the file to the first picture (median {:.0f})\n",
                   name, first.least, first.median);
    }
    const auto frame = *openFrame(folder / "large-plain.dng");
    const auto color = shownBy(frame, nullptr, {});
    TruePixelSource source(std::make_shared<RawFrame>(frame));
    Overview pixels;
    const auto made = timed(9, [&] { pixels = *source.read({3000, 2000, 1400, 920}, true); });
    const auto seen = timed(9, [&] { (void)lookOf(pixels, color); });
    fmt::print(
        "a screenful of true pixels: {:.0f} ms, in another colour {:.0f} ms (medians {:.0f}, {:.0f})\n",
        made.least, seen.least, made.median, seen.median);
}

/// The same frame in tiles of 256 × 256, each packed without loss.
Bytes tiledFileOf(const DngFrame &dng)
{
    constexpr int kTile = 256;
    Bytes image;
    std::vector<uint32_t> places, sizes;
    for (int y0 = 0; y0 < dng.height; y0 += kTile)
        for (int x0 = 0; x0 < dng.width; x0 += kTile) {
            std::vector<uint16_t> tile;
            for (int y = y0; y < y0 + kTile; ++y)
                for (int x = x0; x < x0 + kTile; ++x)
                    tile.push_back(dng.samples[size_t(std::min(y, dng.height - 1)) * size_t(dng.width) +
                                               size_t(std::min(x, dng.width - 1))]);
            const auto piece = losslessJpeg(tile, kTile, kTile, std::bit_width(unsigned(dng.white)));
            places.push_back(uint32_t(image.size()));
            sizes.push_back(uint32_t(piece.size()));
            image.insert(image.end(), piece.begin(), piece.end());
            image.resize((image.size() + 1) / 2 * 2);
        }
    auto small = dng;
    small.width = small.height = 2;
    small.samples = dng.samples.first(4);
    tags::Directory directory;
    directory.tags = *tags::readDirectory(dngFileOf(small), 42, "small");
    std::erase_if(directory.tags, [](const tags::Tag &tag) { // size, strips, Exif
        return tag.id == 256 || tag.id == 257 || tag.id == 273 || tag.id == 278 || tag.id == 279 ||
               tag.id == 34665;
    });
    directory.tags.insert(directory.tags.end(),
                          {tags::longs(256, {uint32_t(dng.width)}), tags::longs(257, {uint32_t(dng.height)}),
                           tags::longs(322, {kTile}), tags::longs(323, {kTile}), tags::longs(325, sizes)});
    const auto laid = [&](uint32_t start) {
        auto all = directory;
        auto there = places;
        for (auto &place : there)
            place += start;
        all.tags.push_back(tags::longs(324, there));
        return tags::fileOf(all, 42, 50740, image); // a private tag has the image's place
    };
    return laid(uint32_t(laid(0).size() - image.size()));
}

} // namespace

int main(int, char **argv)
{
    const fs::path cli = fs::absolute(argv[0]).parent_path() / "wavechroma-cli",
                   folder = fs::temp_directory_path() / fmt::format("wavechroma-bench-{}", getpid());
    fs::create_directories(folder);
    const auto f = tableFrame();
    const DngFrame dng{f.width,         f.height, f.samples, {f.filter.begin(), f.filter.end()},
                       f.black,         f.white,  f.camera,  f.colorMatrix,
                       f.asShotNeutral, 1,        ""};
    const std::pair<const char *, Bytes> files[] = {
        {"plain", dngFileOf(dng, DngPacking::None)}, {"packed", dngFileOf(dng)}, {"tiled", tiledFileOf(dng)}};
    bench::Guard guard("speed");
    for (const auto &[name, bytes] : files) {
        const auto file = folder / (std::string(name) + ".dng");
        if (!writeWhole({{file, bytes}}))
            return 1;
        guard.figure(std::string("read over unpacking, ") + name,
                     compareRead((std::string(name) + ", 24 MP").c_str(), cli, file));
    }
    const auto frame = *openFrame(folder / "plain.dng");
    const auto &chart = chartCatalogue().front();
    const auto search = timed(9, [&] { (void)findChart(frame, chart); });
    fmt::print("search alone, 24 MP: {:.1f} ms (median {:.1f})\n", search.least, search.median);
    const auto reading = *readFrame(frame);
    const auto fit = timed(21, [&] { (void)fitCalibration(reading, chart); });
    fmt::print("matrix fit of 24 patches with cross-validation: {:.1f} ms (median {:.1f})\n", fit.least,
               fit.median);
    auto corners = reading.corners;
    FitRequest request;
    request.sha256 = std::string(64, '0');
    const auto move = timed(21, [&] {
        corners[1].x += 1;
        (void)movedReading(reading, frame, corners, 0.5, {}, true);
    });
    request.preview = true;
    const auto step = timed(21, [&] {
        corners[1].x -= 1;
        (void)passFrom(*movedReading(reading, frame, corners, 0.5, {}, true), request);
    });
    request.preview = false;
    const auto whole =
        timed(21, [&] { (void)passFrom(*movedReading(reading, frame, corners, 0.5, {}), request); });
    fmt::print("a step of dragging a corner: reading {:.1f} ms, with fit and proof {:.1f} ms (medians "
               "{:.1f}, {:.1f}); letting go {:.1f} ms\n",
               move.least, step.least, move.median, step.median, whole.median);
    for (const auto &parts : {Parts{"roots", "as-shot"}, Parts{"field", "greys"}})
        leanSteps(folder / "plain.dng", reading, parts);
    largeFrame(folder, cli);
    fs::remove_all(folder);
    return guard.status();
}
