#pragma once
#include "core/base/progress.h"
#include "core/fit/two_lights.h"
#include "core/raw/overview.h"
#include "core/raw/raw_frame.h"
#include "core/render/screen.h"

namespace wavechroma {

/// A picture for the screen: sRGB, or the codes of a monitor it was made for, before the orientation flag.
/// Each pixel stands for block × block of the frame.
struct DisplayPicture
{
    int width = 0, height = 0, block = 1;
    std::vector<uint32_t> rgb; ///< 0xFFRRGGBB, one a pixel
};

/// How camera RGB becomes screen colour: XYZ D50 = xyzFromCamera · min(RGB, clip), where `clip` keeps clipped
/// areas neutral. A model that is more than a matrix has a table in its place.
struct DisplayColor
{
    Matrix3 xyzFromCamera;
    Vector3 clip{1, 1, 1};
    Vector3 gains{1, 1, 1}; ///< with a table: camera RGB → balanced RGB
    /// codes of 255 plus the half that rounds them, and a fourth number, at kSide³ balanced RGB, their
    /// axes sRGB-coded, red fastest; empty: none.
    std::vector<float> table;
    static constexpr int kSide = 33;
};

/// Returns the colours of a calibration for a monitor, or for sRGB if `screen` is null.
[[nodiscard]] DisplayColor displayColorOf(const ColorModel &model, const Screen *screen = nullptr);
/// Returns the colours of models that are weighted together.
[[nodiscard]] DisplayColor displayColorOf(const ModelBlend &models, const Screen *screen = nullptr);
/// Returns the colours without a calibration: by the file's own matrix and as-shot neutral (linear sRGB when
/// it has none), scaled so that all but the brightest 1 % of the frame is below white. A rendered picture is
/// taken as it is.
[[nodiscard]] DisplayColor displayColorOf(const RawFrame &frame, const Screen *screen = nullptr);

// Opening, looking and keeping are apart: camera RGB at halving sizes is made once when a frame is opened, so
// that another colour decodes nothing again.

/// Camera RGB of a frame at halving sizes: the first level has `block` frame pixels a side, each next one
/// twice that, the last one is no longer than 400 pixels. Empty when stopped.
[[nodiscard]] std::vector<Overview> overviewLevelsOf(const RawFrame &frame, int block,
                                                     const Progress &progress = {});

/// Multiplies a level by a flat's gains.
void evenOut(Overview &level, const GainMap &flat);

/// One level through a colour; out-of-gamut colours are clipped.
[[nodiscard]] DisplayPicture lookOf(const Overview &level, const DisplayColor &color);
/// Block means of the frame through the colour. An empty picture when stopped.
[[nodiscard]] DisplayPicture displayPicture(const RawFrame &frame, const DisplayColor &color, int block,
                                            const Progress &progress = {});

} // namespace wavechroma
