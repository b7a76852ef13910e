#pragma once
#include "core/color/rgb_space.h"
#include "core/fit/color_model.h"
#include "core/formats/whole_file.h"
#include "core/values/profile_settings.h"

#include <optional>
#include <string>
#include <vector>

namespace wavechroma {

[[nodiscard]] double coded(CameraCoding coding, double linear);
[[nodiscard]] double uncoded(CameraCoding coding, double code);

struct CubeOptions
{
    CameraCoding input = CameraCoding::Srgb;
    RgbSpace space;                          ///< of the output
    int size = 33;                           ///< 17, 33 or 65
    std::string title, note;                 ///< a line each; the note goes into a comment
    std::optional<CameraCoding> output = {}; ///< absent: the space's own transfer
};

/// A .cube table, domain 0…1: 3D, red fastest, or 1D, each channel by itself. One a file: readers disagree on
/// files with both.
struct CubeLut
{
    std::string title;
    bool is3d = true;
    int size = 0; ///< points a side
    std::vector<std::array<float, 3>> entries;
};

/// Output light ↔ code, by `output` or the space's own transfer.
[[nodiscard]] double outputCode(const CubeOptions &options, double linear);
[[nodiscard]] double outputLight(const CubeOptions &options, double code);

/// The 3D table. Its input is `options.input`, but sRGB-coded for linear: no even grid serves dark colours in
/// linear light.
[[nodiscard]] CubeLut cubeOf(const ColorModel &model, const CubeOptions &options);
/// The 1D table that linear input goes through first, to the 3D table's sRGB coding; nothing for other input.
[[nodiscard]] std::optional<CubeLut> cubeBefore(const CubeOptions &options);
[[nodiscard]] std::string textOf(const CubeLut &cube, const std::string &note);
/// Unusable, naming the line, for anything else than numbers where they belong, too few of them, or tables of
/// both kinds in one file.
[[nodiscard]] Result<CubeLut> cubeFrom(const std::string &text, const std::string &name);
/// Linear between the points, in each direction.
[[nodiscard]] Vector3 applied(const CubeLut &cube, const Vector3 &rgb);

} // namespace wavechroma
