// Finished pictures beside the raw library's. Quality: PSNR of the demosaic against its AHD on scenes whose
// colour is known (fine_scenes.h), a kind of region each, sRGB-coded and linear. Colour: ΔE2000 of the
// compiled colour against the model, on surfaces that nothing was fitted to. Speed: processor time of
// `render` as a process to that of the library's AHD in one, memory with it, at 45 megapixels.
// wavechroma-bench-render [first seed] [scenes a kind] [quality|colour|speed]
#include "bench/fine_scenes.h"
#include "bench/guard.h"
#include "bench/unseen.h"
#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/fit/fit.h"
#include "core/formats/dng_frame.h"
#include "core/formats/documents.h"
#include "core/render/compiled_color.h"
#include "core/render/frame_pixels.h"
#include "core/sim/studio.h"

#include <chrono>
#include <cstdlib>
#include <ctime>
#include <fmt/format.h>
#include <libraw/libraw.h>
#include <spawn.h>
#include <sys/resource.h>
#include <sys/wait.h>

using namespace wavechroma;
using namespace wavechroma::bench;
namespace fs = std::filesystem;

namespace {

constexpr double kMultipliers[3] = {2.0, 1.0, 1.5};
constexpr int kBlack = 500, kWhite = 15500;

size_t channelAt(int x, int y)
{
    return y % 2 == 0 ? (x % 2 == 0 ? 0 : 1) : (x % 2 == 0 ? 1 : 2);
}

/// What a sensor of 40 000 electrons makes of it.
std::vector<uint16_t> exposed(const cv::Mat3f &scene, uint64_t seed)
{
    std::mt19937_64 random(seed);
    std::normal_distribution<double> normal;
    std::vector<uint16_t> out;
    for (int y = 0; y < scene.rows; ++y)
        for (int x = 0; x < scene.cols; ++x) {
            const size_t c = channelAt(x, y);
            const double light = double(scene(y, x)[int(c)]) / kMultipliers[c];
            const double noisy = light + normal(random) * std::sqrt(light / 40000 + 3e-8);
            out.push_back(
                uint16_t(std::clamp(std::lround(noisy * (kWhite - kBlack) + kBlack), 0L, long(kWhite))));
        }
    return out;
}

DngFrame dngOf(const std::vector<uint16_t> &samples, int width, int height)
{
    DngFrame dng;
    dng.width = width;
    dng.height = height;
    dng.samples = samples;
    dng.filter = {0, 1, 1, 2};
    dng.black = kBlack;
    dng.white = kWhite;
    dng.camera = {"Skerrow", "Tarn 2", "", "", 100, 0.01, 8, "2026-10-14T09:22:10", "Skerrow Tarn 2"};
    dng.colorMatrix = sim::publishedColorMatrix(sim::camera("Tarn 2"));
    dng.asShotNeutral = {1 / kMultipliers[0], 1, 1 / kMultipliers[2]};
    return dng;
}

void process(LibRaw &raw)
{
    auto &ask = raw.imgdata.params;
    ask.output_bps = 16;
    ask.gamm[0] = ask.gamm[1] = 1;
    ask.no_auto_bright = 1;
    ask.adjust_maximum_thr = 0;
    ask.use_camera_wb = 1;
    ask.output_color = 0;
    ask.user_qual = 3; // AHD
    if (raw.unpack() != LIBRAW_SUCCESS || raw.dcraw_process() != LIBRAW_SUCCESS)
        std::abort();
}

cv::Mat3f byLibrary(const std::vector<uint16_t> &samples, int side)
{
    const auto file = dngFileOf(dngOf(samples, side, side), DngPacking::None);
    LibRaw raw;
    if (raw.open_buffer(const_cast<uint8_t *>(file.data()), file.size()) != LIBRAW_SUCCESS)
        std::abort();
    process(raw);
    cv::Mat3f out(side, side);
    for (int i = 0; i < side * side; ++i)
        for (int c = 0; c < 3; ++c)
            out(i / side, i % side)[c] = float(raw.imgdata.image[i][c]) / 65535;
    return out;
}

RawFrame frameOf(const std::vector<uint16_t> &samples, int side)
{
    RawFrame frame;
    frame.width = frame.height = side;
    const auto mosaic = std::make_shared<Mosaic>();
    mosaic->samples = samples.data();
    mosaic->rowStride = side;
    mosaic->channel = {0, 1, 1, 2};
    mosaic->black.assign(4, kBlack);
    mosaic->white = kWhite;
    frame.mosaic = mosaic;
    return frame;
}

cv::Mat3f byUs(const std::vector<uint16_t> &samples, int side)
{
    const auto frame = frameOf(samples, side);
    FramePixels pixels(frame, {kMultipliers[0], kMultipliers[1], kMultipliers[2]});
    RgbRows rgb;
    pixels.read({0, 0, side, side}, rgb.taking({0, 0, side, side}));
    cv::Mat3f out(side, side);
    for (int i = 0; i < side * side; ++i)
        out(i / side, i % side) = {rgb.red[size_t(i)], rgb.green[size_t(i)], rgb.blue[size_t(i)]};
    return out;
}

/// Mean squared errors, sRGB-coded and linear, off the rim.
std::array<double, 2> errorsOf(const cv::Mat3f &truth, const cv::Mat3f &made)
{
    std::array<double, 2> sums{};
    double n = 0;
    for (int y = 8; y < truth.rows - 8; ++y)
        for (int x = 8; x < truth.cols - 8; ++x)
            for (int c = 0; c < 3; ++c, ++n) {
                const double t = std::clamp(double(truth(y, x)[c]), 0.0, 1.0),
                             m = std::clamp(double(made(y, x)[c]), 0.0, 1.0);
                sums[0] += std::pow(encoded(Transfer::Srgb, t) - encoded(Transfer::Srgb, m), 2);
                sums[1] += std::pow(t - m, 2);
            }
    return {sums[0] / n, sums[1] / n};
}

double decibels(double meanSquare)
{
    return -10 * std::log10(meanSquare);
}

void quality(uint64_t first, int count, bench::Guard &guard)
{
    fmt::print("demosaic, PSNR in dB over {} scenes a kind from seed {} on\n", count, first);
    fmt::print("  {:<11} {:>22}   {:>22}\n", "", "sRGB-coded AHD / ours", "linear AHD / ours");
    std::array<double, 2> theirsAll{}, oursAll{};
    const auto line = [](const char *name, const std::array<double, 2> &theirs,
                         const std::array<double, 2> &ours) {
        fmt::print("  {:<11}", name);
        for (size_t i = 0; i < 2; ++i)
            fmt::print(" {:6.2f} {:6.2f} ({:+.2f})  ", decibels(theirs[i]), decibels(ours[i]),
                       decibels(ours[i]) - decibels(theirs[i]));
        fmt::print("\n");
    };
    for (size_t kind = 0; kind < scenes::kKinds.size(); ++kind) {
        std::array<double, 2> theirs{}, ours{};
        for (int i = 0; i < count; ++i) {
            const auto truth = scenes::scene(kind, first + uint64_t(i));
            const auto samples = exposed(truth, (first + uint64_t(i)) * 11 + kind);
            const auto a = errorsOf(truth, byLibrary(samples, truth.cols)),
                       b = errorsOf(truth, byUs(samples, truth.cols));
            for (size_t k = 0; k < 2; ++k) {
                theirs[k] += a[k] / count;
                ours[k] += b[k] / count;
            }
        }
        line(scenes::kKinds[kind], theirs, ours);
        for (size_t k = 0; k < 2; ++k) {
            theirsAll[k] += theirs[k] / double(scenes::kKinds.size());
            oursAll[k] += ours[k] / double(scenes::kKinds.size());
        }
    }
    line("all", theirsAll, oursAll);
    guard.figure("dB over the library, coded", decibels(oursAll[0]) - decibels(theirsAll[0]));
    guard.figure("dB over the library, linear", decibels(oursAll[1]) - decibels(theirsAll[1]));
}

/// Camera RGB of a model through the compiled colour, as linear RGB of the widest space.
ErrorSummary colourErrors(const ColorModel &model, const std::vector<Vector3> &colours)
{
    const auto space = *rgbSpaceFromId("romm");
    const CompiledColor compiled(model, space, 1, model.multipliers);
    const auto toXyz = xyzD50FromRgbMatrix(space);
    std::vector<double> errors;
    for (const auto &rgb : colours) {
        float v[3];
        for (size_t c = 0; c < 3; ++c)
            v[c] = float(rgb[c] * model.multipliers[c]);
        compiled.apply(&v[0], &v[1], &v[2], 1);
        const auto xyz = xyzOf(toXyz * Vector3{double(v[0]), double(v[1]), double(v[2])});
        errors.push_back(de2000(labFromXyz(xyz), labFromXyz(xyzFromCamera(model, {rgb[0], rgb[1], rgb[2]}))));
    }
    return summaryOf(errors);
}

/// Megapixels a second of one thread, the best of several rounds, rows of 4 096 pixels.
void pace(const char *name, const ColorModel &model)
{
    constexpr int kRow = 4096, kRows = 512, kRounds = 7;
    const CompiledColor compiled(model, srgb(), 1, model.multipliers);
    std::mt19937_64 random(5);
    std::uniform_real_distribution<float> light(0, 1);
    std::vector<float> source(3 * kRow), row(3 * kRow);
    for (auto &v : source)
        v = light(random);
    double best = 1e9;
    for (int round = 0; round < kRounds; ++round) {
        const auto start = std::chrono::steady_clock::now();
        for (int y = 0; y < kRows; ++y) {
            row = source;
            compiled.apply(row.data(), row.data() + kRow, row.data() + 2 * kRow, kRow);
        }
        best =
            std::min(best, std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count());
    }
    fmt::print("  {:<24} {:.0f} megapixels a second of one core\n", name, kRow * kRows / best / 1e6);
}

void colour(uint64_t first, int bodies)
{
    fmt::print("compiled colour, ΔE2000 against the model, 320 surfaces × {} random bodies from seed {} on × "
               "{} lamps\n",
               bodies, first, sim::lamps().size());
    const auto unseen = unseenColours(320);
    std::map<std::string, std::pair<double, double>> worst; // largest mean, largest error
    for (int i = 0; i < bodies; ++i) {
        const auto camera = randomCamera(first + uint64_t(i));
        for (const auto &lamp : sim::lamps()) {
            const Body body{camera, lamp, {}};
            std::vector<Vector3> colours;
            for (const auto &one : unseen)
                colours.push_back(seen(body, one.reflectance));
            const auto reading = readingOf(body, Trouble::None, first);
            const auto plane = *fitPlane(reading, chart());
            for (const auto &calibration : plane)
                for (const auto &lean : {ColourLean{}, ColourLean{-3, 3}}) {
                    ColorModel model = calibration;
                    model.lean = lean;
                    const auto e = colourErrors(model, colours);
                    auto &row = worst[calibration.parts.colour + "/" + calibration.parts.tone +
                                      (lean == ColourLean{} ? "" : " leaned")];
                    row.first = std::max(row.first, e.mean);
                    row.second = std::max(row.second, e.max);
                }
        }
    }
    const auto reading = readingOf({randomCamera(first), sim::lamps().front(), {}}, Trouble::None, first);
    for (const auto &calibration : *fitPlane(reading, chart()))
        pace((calibration.parts.colour + "/" + calibration.parts.tone +
              (calibration.bends.empty() ? "" : ", bent"))
                 .c_str(),
             calibration);
    for (const auto &[name, row] : worst)
        fmt::print("  {:<24} largest mean {:.3f}, largest of all {:.3f}\n", name, row.first, row.second);
}

struct Cost
{
    double seconds = 1e9; ///< of processor time, the least of several
    double megabytes = 0;
};

/// A process' own time and memory.
Cost costOf(std::vector<std::string> words, int rounds)
{
    Cost out;
    for (int i = 0; i < rounds; ++i) {
        std::vector<char *> arguments;
        for (auto &word : words)
            arguments.push_back(word.data());
        arguments.push_back(nullptr);
        pid_t child = 0;
        int status = 0;
        rusage used{};
        if (posix_spawn(&child, words[0].c_str(), nullptr, nullptr, arguments.data(), environ) != 0 ||
            wait4(child, &status, 0, &used) != child || status != 0)
            std::abort();
        const auto seconds = [](const timeval &t) { return double(t.tv_sec) + double(t.tv_usec) / 1e6; };
        out.seconds = std::min(out.seconds, seconds(used.ru_utime) + seconds(used.ru_stime));
        out.megabytes = double(used.ru_maxrss) / 1024;
    }
    return out;
}

/// Of the first body that a colour part bends anything for, where it is to: a field that is worth nothing
/// leaves a matrix.
void writeCalibration(const fs::path &file, const std::string &colourPart, bool isBent)
{
    FitOptions options;
    options.parts = {colourPart, "as-shot"};
    options.crossValidate = false;
    for (uint64_t seed = 1; seed < 100; ++seed)
        for (const auto &lamp : sim::lamps()) {
            const Body body{randomCamera(seed), lamp, {}};
            auto calibration = *fitCalibration(readingOf(body, Trouble::None, 3), chart(), options);
            if (calibration.bends.empty() == isBent)
                continue;
            calibration.name = "bench";
            calibration.camera = dngOf({}, 2, 2).camera;
            if (!writeWhole({{file, bytesOf(documentOf(calibration))}}))
                std::abort();
            return;
        }
    std::abort();
}

constexpr int kWidth = 8192, kHeight = 5504;

/// In a process of its own: memory that a parent holds is counted as its children's, too.
void makeFiles(const fs::path &folder)
{
    std::vector<uint16_t> samples(size_t(kWidth) * kHeight);
    for (int y = 0; y < kHeight; y += scenes::kSide)
        for (int x = 0; x < kWidth; x += scenes::kSide) {
            const auto part =
                exposed(scenes::scene(size_t((x + y) / scenes::kSide) % 5, 7), uint64_t(x * 31 + y));
            for (int j = 0; j < std::min(scenes::kSide, kHeight - y); ++j)
                for (int i = 0; i < std::min(scenes::kSide, kWidth - x); ++i)
                    samples[size_t(y + j) * kWidth + size_t(x + i)] = part[size_t(j * scenes::kSide + i)];
        }
    const auto dng = dngOf(samples, kWidth, kHeight);
    if (!writeWhole({{folder / "plain.dng", dngFileOf(dng, DngPacking::None)},
                     {folder / "packed.dng", dngFileOf(dng, DngPacking::LosslessJpeg)}}))
        std::abort();
    writeCalibration(folder / "matrix.json", "matrix", false);
    writeCalibration(folder / "field.json", "field", true);
}

void speed(const fs::path &self)
{
    const fs::path folder = fs::temp_directory_path() / "wavechroma-bench-render";
    fs::create_directories(folder);
    (void)costOf({self.string(), "make", folder.string()}, 1);
    const fs::path plain = folder / "plain.dng", packed = folder / "packed.dng";
    const auto cli = (self.parent_path() / "wavechroma-cli").string();
    const double megapixels = kWidth * kHeight / 1e6;
    for (const auto &file : {plain, packed}) {
        const auto theirs = costOf({self.string(), "ahd", file.string()}, 2);
        fmt::print("{}: {:.0f} MP, AHD {:.2f} s of processor time, {:.0f} MB\n", file.filename().string(),
                   megapixels, theirs.seconds, theirs.megabytes);
        for (const auto *model : {"matrix", "field"}) {
            const auto ours = costOf({cli, "render", file.string(), "--calibration",
                                      (folder / (std::string(model) + ".json")).string(), "--overwrite", "-o",
                                      folder.string()},
                                     3);
            fmt::print("  render {}: {:.2f} s ({:.3f}), {:.0f} MB: {:.1f} bytes a pixel beyond the file\n",
                       model, ours.seconds, ours.seconds / theirs.seconds, ours.megabytes,
                       (ours.megabytes - double(fs::file_size(file)) / 1048576) * 1048576 / megapixels / 1e6);
        }
    }
    fs::remove_all(folder);
}

} // namespace

int main(int argc, char **argv)
{
    if (argc == 3 && std::string(argv[1]) == "make") {
        makeFiles(argv[2]);
        return 0;
    }
    if (argc == 3 && std::string(argv[1]) == "ahd") { // as a process of its own, for its time and memory
        LibRaw raw;
        if (raw.open_file(argv[2]) != LIBRAW_SUCCESS)
            return 1;
        process(raw);
        return 0;
    }
    const std::string part = argc > 3 ? argv[3] : "";
    const uint64_t first = argc > 1 ? uint64_t(std::atoll(argv[1])) : 1;
    const int count = argc > 2 ? std::atoi(argv[2]) : 4;
    bench::Guard guard("render");
    if (part.empty() || part == "quality")
        quality(first, count, guard);
    if (part.empty() || part == "colour")
        colour(first, count);
    if (part.empty() || part == "speed")
        speed(fs::canonical("/proc/self/exe"));
    return guard.status();
}
