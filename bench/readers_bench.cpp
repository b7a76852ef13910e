// What it costs that frames are decoded in processes of their own: opened and every sample touched, in this
// process and by a reader, in turn. wavechroma-bench-readers [rounds]
#include "bench/quantile.h"
#include "core/formats/dng_frame.h"
#include "core/formats/picture_file.h"
#include "core/raw/open_frame.h"
#include "core/raw/reader_calls.h"
#include "core/raw/reader_process.h"
#include "core/sim/random.h"

#include <chrono>
#include <cstdlib>
#include <fmt/format.h>
#include <functional>
#include <unistd.h>

using namespace wavechroma;
namespace fs = std::filesystem;

namespace {

constexpr int kWidth = 6000, kHeight = 4000;
volatile uint64_t touched = 0;

double milliseconds(const std::function<Result<RawFrame>()> &open)
{
    const auto start = std::chrono::steady_clock::now();
    const auto frame = open();
    if (!frame) {
        fmt::print("{}\n", frame.error().message);
        std::exit(1);
    }
    uint64_t sum = 0;
    for (int y = 0; frame->mosaic && y < frame->height; ++y)
        for (int x = 0; x < frame->width; ++x)
            sum += frame->mosaic->code(x, y);
    if (frame->picture)
        for (const auto code : frame->picture->codes)
            sum += code;
    touched = touched + sum;
    return std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start).count();
}

Result<RawFrame> here(const fs::path &file)
{
    return raw::openHere(*raw::MappedFile::open(file), file.string(), "srgb");
}

std::vector<fs::path> filesIn(const fs::path &folder)
{
    sim::Random random(7);
    std::vector<uint16_t> samples(size_t(kWidth) * kHeight);
    for (size_t i = 0; i < samples.size(); ++i)
        samples[i] = uint16_t(600 + (i % kWidth) * 2 + random.unit() * 60);
    DngFrame dng{kWidth, kHeight, samples, {0, 1, 1, 2}, 512, 15800, {}, {}, {0.5, 1, 0.6}, 1, ""};
    dng.camera.make = "Skerrow";
    dng.camera.model = "Tarn 2";
    dng.colorMatrix = *inverse(xyzD50FromRgbMatrix(srgb()));
    std::vector<fs::path> out;
    for (const char *name : {"plain.dng", "packed.dng", "picture.jpg"})
        out.push_back(folder / name);
    PictureFacts facts;
    facts.format = PictureFormat::Jpeg;
    facts.width = kWidth;
    facts.height = kHeight;
    facts.space = srgb();
    const auto picture = PictureFile::begin(out[2], facts, true);
    std::vector<uint16_t> row(size_t(kWidth) * 3);
    for (int y = 0; picture && y < kHeight; ++y) {
        for (size_t i = 0; i < row.size(); ++i)
            row[i] = uint16_t(i * 3 + size_t(y) * 7 + size_t(random.unit() * 2000));
        if (!(*picture)->add(row.data(), 1))
            std::abort();
    }
    if (!picture || !(*picture)->finish())
        std::abort();
    const auto plain = dngFileOf(dng, DngPacking::None), packed = dngFileOf(dng);
    if (!writeWhole({{out[0], plain}, {out[1], packed}}))
        std::abort();
    return out;
}

} // namespace

int main(int argc, char **argv)
{
    const int rounds = argc > 1 ? std::atoi(argv[1]) : 31;
    const auto folder = fs::temp_directory_path() / fmt::format("wavechroma-readers-{}", getpid());
    fs::create_directories(folder);
    { // before any threads, as in the programs
        const FrameReaders readers;
        fmt::print("{:<16}{:>20}{:>20}{:>22}\n", "24 MP, ms", "here", "by reader", "median of differences");
        for (const auto &file : filesIn(folder)) {
            std::vector<double> own, other, more;
            for (int i = 0; i <= rounds; ++i) {
                const double a = milliseconds([&] { return here(file); }),
                             b = milliseconds([&] { return openFrame(file); });
                if (i == 0) // file and reader are not warm yet
                    continue;
                own.push_back(a);
                other.push_back(b);
                more.push_back(b - a);
            }
            fmt::print("{:<16}{:>10.1f} ({:>6.1f}){:>11.1f} ({:>6.1f}){:>22.1f}\n", file.filename().string(),
                       quantile(own, 0), quantile(own, 0.5), quantile(other, 0), quantile(other, 0.5),
                       quantile(more, 0.5));
        }
    }
    std::vector<double> begun;
    for (int i = 0; i < rounds; ++i)
        begun.push_back(milliseconds([&] {
                            const FrameReaders readers;
                            return openFrame(folder / "plain.dng");
                        }) -
                        milliseconds([&] { return here(folder / "plain.dng"); }));
    fmt::print("a program that opens one frame: {:.1f} ms more for its readers\n", quantile(begun, 0.5));
    fs::remove_all(folder);
}
