#pragma once
#include "core/color/rgb_space.h"
#include "core/fit/calibration.h"
#include "core/fit/color_model.h"
#include "core/formats/whole_file.h"
#include "core/values/profile_settings.h"

#include <functional>
#include <optional>
#include <string>
#include <vector>

namespace wavechroma {

[[nodiscard]] double coded(CameraCoding coding, double linear);
[[nodiscard]] double uncoded(CameraCoding coding, double code);

/// What a table or a profile is applied to.
enum class TableInput {
    CameraRgb, ///< camera RGB × multipliers × exposure scale, clipped to 0…1
    Codes,     ///< the codes of rendered pictures, as they are in the file
    /// Codes, in the output's space, of a picture that white balance, exposure scale and the raw file's own
    /// matrix made of a raw frame: what `render` makes by a calibration of the part `balance`, and a camera
    /// about.
    PlainPicture
};

struct CubeOptions
{
    CameraCoding input = CameraCoding::Srgb; ///< of camera RGB
    TableInput of = TableInput::CameraRgb;
    RgbSpace space;                          ///< of the output
    int size = 33;                           ///< 17, 33 or 65
    std::string title = {};                  ///< a line
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
    Vector3 least{0, 0, 0}, most{1, 1, 1}; ///< input of the first and the last point
    /// Of a table that this program wrote: what it is for, and the id of its output's space. Empty for
    /// others.
    std::optional<TableInput> madeFor = {};
    std::string outputSpace = {};
};

/// Which balanced RGB a table's input stands for, and back for what is within it.
struct InputCodes
{
    std::function<BalancedRgb(const Vector3 &code)> balanced;
    std::function<Vector3(const BalancedRgb &)> code;
};
/// Unusable for a calibration of rendered pictures whose profile holds more than a curve a channel.
[[nodiscard]] Result<Done> checkCodes(const Calibration &calibration);
/// Unusable as checkCodes() says.
[[nodiscard]] Result<InputCodes> inputCodesOf(const Calibration &calibration, const CubeOptions &options);

/// Output light ↔ code, by `output` or the space's own transfer.
[[nodiscard]] double outputCode(const CubeOptions &options, double linear);
[[nodiscard]] double outputLight(const CubeOptions &options, double code);

/// The 3D table. Its input is `options.input`, but sRGB-coded for linear: no even grid serves dark colours in
/// linear light.
[[nodiscard]] CubeLut cubeOf(const Calibration &calibration, const InputCodes &input,
                             const CubeOptions &options);
/// The 1D table that linear input goes through first, to the 3D table's sRGB coding; nothing for other input.
[[nodiscard]] std::optional<CubeLut> cubeBefore(const CubeOptions &options);
[[nodiscard]] std::string textOf(const CubeLut &cube, const std::string &note);
/// Unusable, naming the line, for anything else than numbers where they belong, too few of them, or tables of
/// both kinds in one file. A domain other than 0…1 is kept.
[[nodiscard]] Result<CubeLut> cubeFrom(const std::string &text, const std::string &name);
/// Linear between the points, in each direction.
[[nodiscard]] Vector3 applied(const CubeLut &cube, const Vector3 &input);

} // namespace wavechroma
