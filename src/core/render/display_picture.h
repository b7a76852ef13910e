#pragma once
#include "core/fit/calibration.h"
#include "core/raw/raw_frame.h"

namespace wavechroma {

/// A picture for the screen: sRGB, 8 bits, interleaved, before the orientation flag. Each pixel stands for
/// block × block of the frame.
struct DisplayPicture
{
    int width = 0, height = 0, block = 1;
    std::vector<uint8_t> rgb;
};

/// How camera RGB becomes screen colour: XYZ D50 = xyzFromCamera · min(RGB, clip), where `clip` keeps burnt
/// areas neutral. A model that is more than a matrix has a table in its place.
struct DisplayColor
{
    Matrix3 xyzFromCamera;
    Vector3 clip{1, 1, 1};
    Vector3 gains{1, 1, 1}; ///< with a table: camera RGB → balanced RGB
    std::vector<float>
        table; ///< linear sRGB at kSide³ balanced RGB, their axes sRGB-coded, red fastest; empty: none
    static constexpr int kSide = 33;
};

/// By a calibration.
[[nodiscard]] DisplayColor displayColorOf(const Calibration &calibration);
/// Without one: by the file's own matrix and as-shot neutral (linear sRGB when it has none), scaled so that
/// all but the brightest 1 % of the frame is below white. A rendered picture is taken as it is.
[[nodiscard]] DisplayColor displayColorOf(const RawFrame &frame);

/// Block means of the mosaic through the colour; out-of-gamut colours are clipped. An empty picture when
/// stopped.
[[nodiscard]] DisplayPicture displayPicture(const RawFrame &frame, const DisplayColor &color, int block,
                                            const Progress &progress = {});

} // namespace wavechroma
