#pragma once
#include "core/color/rgb_space.h"
#include "core/values/setting_row.h"

namespace wavechroma {

enum class PictureFormat { Tiff16, Png16, Jpeg };
/// Whether a frame keeps what it was exposed differently from the chart that serves it.
enum class PictureLevel { AsShot, Chart };

/// Limits of a lens distortion that is taken out, and of a blur that is undone (pixels, standard deviation).
inline constexpr double kMostDistortion = 0.3, kLeastEdgeSpread = 0.2, kMostEdgeSpread = 2.5;

/// How a finished picture is made from a frame and what serves it.
struct PictureSettings
{
    PictureFormat format = PictureFormat::Tiff16;
    RgbSpaceId space = RgbSpaceId::Srgb;
    PictureLevel level = PictureLevel::AsShot;
    std::optional<int> longSide;         ///< pixels; absent: every pixel. Frames are never enlarged.
    std::optional<double> pixelsPerInch; ///< absent: by the serving chart's scale, where that is known
    int quality = 95;                    ///< JPEG, 1…100
    bool deflate = false;                ///< TIFF: packed without loss
    ChartAmount sharpen;                 ///< the blur that is undone, see Finish::edgeSpread
    bool calmColour = false;             ///< colour noise is smoothed away
    ChartAmount straighten;              ///< the lens' distortion that is taken out
    bool evenBackdrop = false;           ///< falloff estimated from the backdrop, where there is no flat
    bool operator==(const PictureSettings &) const = default;
};

[[nodiscard]] const std::vector<SettingRow<PictureSettings>> &pictureSettings();

} // namespace wavechroma
