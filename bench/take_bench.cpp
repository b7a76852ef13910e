// A whole shoot taken into a job against the raw library's bare open + unpack of the same files: processor
// time, and how busy the cores are; memory; and from a 45-megapixel chart's file being complete to its
// answer. Frames are written packed as cameras pack them (lossless JPEG); one frame in seventeen shows the
// chart.
#include "bench/guard.h"
#include "core/formats/dng_frame.h"
#include "core/formats/whole_file.h"
#include "core/raw/reader_process.h"
#include "core/sim/expose.h"
#include "core/sim/reflectance.h"
#include "core/tasks/take_task.h"

#include <chrono>
#include <cstdlib>
#include <fmt/format.h>
#include <libraw/libraw.h>
#include <optional>
#include <sys/resource.h>

using namespace wavechroma;
namespace fs = std::filesystem;

namespace {

/// Seconds of this process, all its threads, and its ended children.
double processorSeconds()
{
    double sum = 0;
    for (const int who : {RUSAGE_SELF, RUSAGE_CHILDREN}) {
        rusage used{};
        getrusage(who, &used);
        for (const auto &t : {used.ru_utime, used.ru_stime})
            sum += double(t.tv_sec) + double(t.tv_usec) / 1e6;
    }
    return sum;
}

struct Spent
{
    double wall = 0, processor = 0;
};

template <class Work> Spent timed(const Work &work)
{
    const auto start = std::chrono::steady_clock::now();
    const double before = processorSeconds();
    work();
    return {std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count(),
            processorSeconds() - before};
}

/// A table with cloths, or with the chart.
sim::SimFrame tableFrame(bool hasChart, int width, int height, uint64_t seed)
{
    sim::Scene scene;
    scene.background = sim::addMaterial(scene, *sim::reflectanceOf({70, 2, 8}, 3), 0.05, 9);
    if (hasChart) {
        sim::PrintedChart printed;
        printed.chart = chartCatalogue().front();
        for (const auto &r : sim::chartReflectances(printed.chart))
            printed.patchMaterials.push_back(sim::addMaterial(scene, r));
        printed.frameMaterial = sim::addMaterial(scene, sim::flatReflectance(0.03));
        printed.corners =
            sim::cornersAt(printed.chart, {{width / 2.0, height / 2.0}, width * 0.4, 12, 15, -10, 5});
        scene.things.push_back(printed);
    } else {
        for (int i = 0; i < 4; ++i)
            scene.things.push_back(sim::Ellipse{
                {width * (0.2 + 0.2 * i), height * 0.5},
                width * 0.08,
                height * 0.3,
                sim::addMaterial(
                    scene, *sim::reflectanceOf({40.0 + 8 * i, 20, -10.0 * i}, seed + uint64_t(i)), 0.2, 7)});
    }
    sim::Shot shot;
    shot.width = width;
    shot.height = height;
    return sim::expose(scene, sim::camera("Tarn 2"), sim::lamp("strobe"), shot);
}

DngFrame dngOf(const sim::SimFrame &f, int number)
{
    DngFrame out;
    out.width = f.width;
    out.height = f.height;
    out.samples = f.samples;
    out.filter.assign(f.filter.begin(), f.filter.end());
    out.black = f.black;
    out.white = f.white;
    out.camera = f.camera;
    out.camera.capturedAt =
        fmt::format("2026-10-14T{:02}:{:02}:{:02}", 9 + number / 3600, number / 60 % 60, number % 60);
    out.colorMatrix = f.colorMatrix;
    out.asShotNeutral = f.asShotNeutral;
    out.comment = fmt::format("frame {}", number); // or all would be one frame, by their hash
    return out;
}

long peakMegabytes()
{
    long most = 0;
    for (const int who : {RUSAGE_SELF, RUSAGE_CHILDREN}) {
        rusage used{};
        getrusage(who, &used);
        most = std::max(most, used.ru_maxrss / 1024);
    }
    return most;
}

void unpackAll(const std::vector<fs::path> &files)
{
    for (const auto &file : files) {
        LibRaw raw;
        if (raw.open_file(file.c_str()) != LIBRAW_SUCCESS || raw.unpack() != LIBRAW_SUCCESS)
            std::abort();
    }
}

void takeAll(const fs::path &job, const fs::path &folder, size_t count)
{
    const auto taken = takeIntoJob(job, {folder});
    if (!taken || size_t(taken->taken) != count)
        std::abort();
}

} // namespace

int main(int argc, char **argv)
{
    std::optional<FrameReaders> readers(std::in_place);
    const int count = argc > 1 ? std::atoi(argv[1]) : 34;
    const fs::path folder = fs::temp_directory_path() / "wavechroma-take-bench", frames = folder / "frames";
    fs::remove_all(folder);
    fs::create_directories(frames);
    const auto chart = tableFrame(true, 6000, 4000, 1), product = tableFrame(false, 6000, 4000, 2);
    std::vector<fs::path> files;
    for (int i = 0; i < count; ++i) {
        files.push_back(frames / fmt::format("frame-{:03}.dng", i));
        if (!writeWhole({{files.back(), dngFileOf(dngOf(i % 17 == 0 ? chart : product, i))}}))
            std::abort();
    }
    const auto large = folder / "large.dng";
    if (!writeWhole({{large, dngFileOf(dngOf(tableFrame(true, 8256, 5504, 3), count))}}))
        std::abort();
    const auto answer = timed([&] {
        if (!takeIntoJob(folder / "first", {large}))
            std::abort();
    });
    fmt::print("a chart of 45 megapixels: answered {:.2f} s after its file was there\n", answer.wall);

    unpackAll({files.front()}); // both from the file cache
    const auto theirs = timed([&] { unpackAll(files); });
    const auto ours = timed([&] {
        takeAll(folder / "job", frames, files.size());
        readers.reset(); // the time of a process is counted when it has ended
    });
    const long peak = peakMegabytes();
    const double ratio = ours.processor / theirs.processor, busy = ours.processor / ours.wall;
    fmt::print("take of {} frames of 24 megapixels: {:.1f} s, {:.1f} s of processor time, {:.1f} cores busy, "
               "at most {} "
               "MB a process; unpacking alone {:.1f} s: {:.2f} of it\n",
               count, ours.wall, ours.processor, busy, peak, theirs.processor, ratio);

    if (!std::getenv("WAVECHROMA_KEEP"))
        fs::remove_all(folder);
    bench::Guard guard("take");
    guard.figure("processor time over unpacking", ratio);
    guard.figure("seconds to the answer, 45 megapixels", answer.wall);
    return guard.status();
}
