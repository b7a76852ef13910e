#pragma once
#include "core/color/rgb_space.h"
#include "core/fit/color_model.h"
#include "core/formats/whole_file.h"

#include <optional>
#include <string>
#include <vector>

namespace wavechroma {

/// How 0…1 of linear light is coded. A table's input is balanced camera RGB times exposure scale, clipped to
/// 0…1, in one of these.
enum class CameraCoding {
    Linear,
    Srgb,  ///< IEC 61966-2-1's transfer
    OpRgb, ///< IEC 61966-2-5's
    Log    ///< log2(1 + 1023 x) / 10
};
[[nodiscard]] Result<CameraCoding>
cameraCodingFrom(const std::string &name); ///< "linear", "srgb", "oprgb", "log"
[[nodiscard]] double coded(CameraCoding coding, double linear);
[[nodiscard]] double uncoded(CameraCoding coding, double code);

struct CubeOptions
{
    CameraCoding input = CameraCoding::Srgb;
    RgbSpace space;                          ///< of the output
    int size = 33;                           ///< 17, 33 or 65
    std::string title, note;                 ///< a line each; the note goes into a comment
    std::optional<CameraCoding> output = {}; ///< absent: the space's own transfer
    bool shaper = false; ///< input of any coding goes through a 1D table first; linear input does so anyway
};

/// A .cube table: 3D, red fastest, domain 0…1. With a shaper, a 1D table in the same file (LUT_1D_SIZE before
/// LUT_3D_SIZE) takes the input to the sRGB transfer first: no even grid serves dark colours in linear light,
/// or light ones in a steep log.
struct CubeLut
{
    std::string title;
    std::vector<std::array<float, 3>> shaper; ///< none: the input as it is
    int size = 0;
    std::vector<std::array<float, 3>> entries;
};

/// Output light ↔ code, by `output` or the space's own transfer.
[[nodiscard]] double outputCode(const CubeOptions &options, double linear);
[[nodiscard]] double outputLight(const CubeOptions &options, double code);

[[nodiscard]] CubeLut cubeOf(const ColorModel &model, const CubeOptions &options);
[[nodiscard]] std::string textOf(const CubeLut &cube, const std::string &note);
/// Unusable, naming the line, for anything else than numbers where they belong, or too few of them.
[[nodiscard]] Result<CubeLut> cubeFrom(const std::string &text, const std::string &name);
/// Trilinear.
[[nodiscard]] Vector3 applied(const CubeLut &cube, const Vector3 &rgb);

} // namespace wavechroma
