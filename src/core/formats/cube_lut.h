#pragma once
#include "core/color/rgb_space.h"
#include "core/fit/color_model.h"
#include "core/formats/whole_file.h"

#include <string>
#include <vector>

namespace wavechroma {

/// What a table expects its input to be: balanced camera RGB times exposure scale, clipped to 0…1, in this coding.
enum class CameraCoding {
    Linear,
    Srgb, ///< IEC 61966-2-1's transfer
    Log   ///< log2(1 + 1023 x) / 10
};
[[nodiscard]] Result<CameraCoding> cameraCodingFrom(const std::string &name); ///< "linear", "srgb", "log"
[[nodiscard]] double coded(CameraCoding coding, double linear);
[[nodiscard]] double uncoded(CameraCoding coding, double code);

struct CubeOptions {
    CameraCoding input = CameraCoding::Srgb;
    RgbSpace space;          ///< of the output, with its own transfer
    int size = 33;           ///< 17, 33 or 65
    std::string title, note; ///< a line each; the note goes into a comment
};

/// A .cube table: 3D, red fastest, domain 0…1. Linear input goes through a 1D table of the sRGB transfer first, in the same file
/// (LUT_1D_SIZE before LUT_3D_SIZE), for no even grid serves dark colours in linear light.
struct CubeLut {
    std::string title;
    std::vector<std::array<float, 3>> shaper; ///< none: the input as it is
    int size = 0;
    std::vector<std::array<float, 3>> entries;
};

[[nodiscard]] CubeLut cubeOf(const ColorModel &model, const CubeOptions &options);
[[nodiscard]] std::string textOf(const CubeLut &cube, const std::string &note);
/// Unusable, naming the line, for anything else than numbers where they belong, or too few of them.
[[nodiscard]] Result<CubeLut> cubeFrom(const std::string &text, const std::string &name);
/// Trilinear.
[[nodiscard]] Vector3 applied(const CubeLut &cube, const Vector3 &rgb);

} // namespace wavechroma
