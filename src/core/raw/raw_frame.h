#pragma once
#include "core/base/camera_facts.h"
#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/raw/gain_map.h"
#include "core/raw/samples.h"

#include <array>
#include <cstdint>
#include <filesystem>
#include <functional>
#include <memory>
#include <span>
#include <vector>

namespace wavechroma {

/// Sensor samples behind a colour filter array, as the file holds them.
struct Mosaic
{
    Samples memory;                    ///< that they lie in; empty: in the file, which the frame keeps mapped
    const uint16_t *samples = nullptr; ///< top-left sample of the visible area
    ptrdiff_t rowStride = 0;           ///< samples from one row to the next
    int periodX = 2, periodY = 2;      ///< of the filter and black pattern, 1…16
    std::vector<uint8_t> channel;      ///< periodY × periodX: 0 R, 1 G, 2 B
    std::vector<float> black;          ///< periodY × periodX, in code values
    float white = 0;                   ///< code value of saturation
    bool isOfLibrary = true;           ///< the raw library reads the file alike, and so can demosaic it

    [[nodiscard]] size_t cell(int x, int y) const { return size_t((y % periodY) * periodX + x % periodX); }
    [[nodiscard]] uint16_t code(int x, int y) const { return samples[y * rowStride + x]; }
    /// 0 is black, 1 is saturation.
    [[nodiscard]] float value(int x, int y) const
    {
        const float b = black[cell(x, y)];
        return (float(code(x, y)) - b) / (white - b);
    }
};

/// Light of a rendered picture or of a raw file without a mosaic: codes as the file has them, and what light
/// each stands for. Two bytes a sample rather than four, and nothing is lost.
struct LinearPicture
{
    size_t channels = 3;                     ///< 1: grey, which all three colours have
    Samples codes;                           ///< interleaved, row by row
    std::array<std::vector<float>, 3> light; ///< per colour and code, 0…1; as long as the codes ask for
    float saturation = 1;                    ///< the smallest light that stands for a clipped sample

    /// Linear red, green or blue (0, 1, 2) of a pixel, counted row by row.
    [[nodiscard]] float value(size_t pixel, size_t colour) const
    {
        return light[colour][codes[channels == 3 ? 3 * pixel + colour : pixel]];
    }
};

/// A frame file, opened. Exactly one of mosaic and picture is filled. Copies share the samples.
struct RawFrame
{
    std::string path;
    CameraFacts camera;
    FileColor fileColor;
    int width = 0, height = 0; ///< visible area, before the orientation flag
    int orientation = 1;       ///< EXIF 1…8
    bool rendered = false;     ///< TIFF, PNG or JPEG rather than raw
    /// Space assumed for a rendered picture that does not say its own.
    std::string assumedSpace = {};
    std::shared_ptr<const Mosaic> mosaic;
    std::shared_ptr<const LinearPicture> picture;
    std::shared_ptr<const GainMap> flat;     ///< of a flat frame, where one is given
    std::shared_ptr<const GainMap> fileGain; ///< of the file itself (DNG opcodes), where it has one
    /// What sampling multiplies by; null for nothing. Clipping is counted before. A flat is measured without
    /// the file's gains, and so takes their place.
    [[nodiscard]] const GainMap *evening() const { return flat ? flat.get() : fileGain.get(); }
    std::shared_ptr<const void> memory; ///< keeps samples in place that the mosaic does not hold itself
    /// Was the file written into, or cut short, since it was opened? Samples may be the file's own bytes.
    std::function<bool()> hasChanged = {};
};

/// Checks, after everything was read, that the file did not change meanwhile; Unusable if it did.
[[nodiscard]] Result<Done> stillWhole(const RawFrame &frame);

/// Opens any raw file the raw library reads, and TIFF, PNG and JPEG pictures, which are made linear through
/// their embedded ICC profile, or where they have none as what `assume` says: "srgb", "display-p3", "oprgb",
/// "romm". Unusable, naming file and reason, for a missing, empty, truncated, wrong-type or oversized (over
/// 400 megapixel) file, and for pictures in other colours than RGB and grey; never crashes on a hostile one.
/// Thread-safe.
[[nodiscard]] Result<RawFrame> openFrame(const std::filesystem::path &path,
                                         const std::string &assume = "srgb");

/// The SHA-256 of a file's bytes as 64 lower-case hex digits.
[[nodiscard]] Result<std::string> sha256OfFile(const std::filesystem::path &path,
                                               const Progress &progress = {});

[[nodiscard]] std::string sha256Of(std::string_view text);

/// A small camera RGB picture of the whole frame: means over blocks of `block` × `block` pixels, no white
/// balance.
struct Overview
{
    int width = 0, height = 0, block = 1;
    std::vector<float> rgb;       ///< interleaved; 0 is black, 1 is saturation
    std::vector<uint8_t> clipped; ///< per pixel, 1 where any sample of the block was at saturation
};
/// `block` is rounded up to a multiple of the mosaic's period. Blocks cut by the frame's edge are left out.
[[nodiscard]] Overview overviewOf(const RawFrame &frame, int block);
/// A part of the frame; x0 and y0 are rounded down to the mosaic's period.
struct PixelArea
{
    int x = 0, y = 0, width = 0, height = 0;
};
[[nodiscard]] Overview overviewOf(const RawFrame &frame, int block, PixelArea &area);
/// The smallest block that is meaningful: 1 for pictures, the mosaic's period otherwise.
[[nodiscard]] int smallestBlock(const RawFrame &frame);

} // namespace wavechroma
