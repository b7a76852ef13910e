#include "core/values/picture_settings.h"
#include "core/base/said.h"

namespace wavechroma {

const std::vector<SettingRow<PictureSettings>> &pictureSettings()
{
    using S = PictureSettings;
    static const std::vector<SettingRow<S>> rows{
        settingOf<&S::format>(
            {.key = "format",
             .flag = "--format",
             .label = "File",
             .help = "kind of file",
             .brief = "{choice}",
             .choices = {{"tiff16", "TIFF, 16 bits"}, {"png16", "PNG, 16 bits"}, {"jpeg", "JPEG"}}}),
        settingOf<&S::space>({.key = "space",
                              .flag = "--space",
                              .label = "Colours",
                              .help = words::said("colour space, whose profile is embedded"),
                              .brief = "{choice}",
                              .choices = {{"srgb", "sRGB"},
                                          {"display-p3", "Display P3"},
                                          {"oprgb", "opRGB"},
                                          {"romm", "ROMM RGB"}}}),
        settingOf<&S::level>(
            {.key = "level",
             .flag = "--level",
             .label = "Level",
             .help = words::said(
                 "keep differences of exposure, or bring each frame to the exposure of its chart"),
             .brief = words::said("level {choice}"),
             .choices = {{"as-shot", "as shot"}, {"chart", "as its chart's"}}}),
        settingOf<&S::longSide>({.key = "long_side",
                                 .flag = "--long-side",
                                 .label = "Long side, pixels",
                                 .help = words::said("pixels of the longer side; frames are never enlarged"),
                                 .brief = words::said("{n:g} px long side"),
                                 .least = 1,
                                 .most = 100000,
                                 .unset = "every pixel"}),
        settingOf<&S::pixelsPerInch>(
            {.key = "ppi",
             .flag = "--ppi",
             .label = "Pixels per inch",
             .help = words::said("pixels per inch written into the files; in a job by the chart's size"),
             .brief = words::said("{n:g} ppi"),
             .least = 1,
             .most = 100000,
             .unset = words::said("by the chart's scale")}),
        settingOf<&S::quality>({.key = "quality",
                                .flag = "--quality",
                                .label = "JPEG quality",
                                .help = "quality of JPEG",
                                .brief = nullptr,
                                .least = 1,
                                .most = 100},
                               [](const S &s) { return s.format == PictureFormat::Jpeg; }),
        settingOf<&S::deflate>({.key = "deflate",
                                .flag = "--deflate",
                                .label = words::said("Compress TIFF without loss"),
                                .help = words::said("compress TIFF without loss"),
                                .brief = nullptr},
                               [](const S &s) { return s.format == PictureFormat::Tiff16; }),
        settingOf<&S::sharpen>(
            {.key = "sharpen",
             .flag = "--sharpen",
             .label = words::said("Sharpen, edge spread in pixels"),
             .help = words::said("undo a blur of so many pixels (standard deviation of an edge), or "
                                 "as the job's chart shows it"),
             .brief = "sharpened",
             .least = kLeastEdgeSpread,
             .most = kMostEdgeSpread}),
        settingOf<&S::calmColour>({.key = "calm_colour",
                                   .flag = "--calm-colour",
                                   .label = "Smooth colour noise",
                                   .help = "smooth colour noise",
                                   .brief = "colour noise smoothed"}),
        settingOf<&S::straighten>(
            {.key = "straighten",
             .flag = "--straighten",
             .label = "Correct lens distortion",
             .help = words::said(
                 "correct a lens distortion, negative for barrel, or as the job's charts show it"),
             .brief = "straightened",
             .least = -kMostDistortion,
             .most = kMostDistortion}),
        settingOf<&S::evenBackdrop>(
            {.key = "even_backdrop",
             .flag = "--even-backdrop",
             .label = words::said("Falloff estimated from an even backdrop"),
             .help =
                 words::said("without a flat: take out the falloff that an even backdrop shows, an estimate"),
             .brief = words::said("evened by its backdrop")}),
    };
    return rows;
}

} // namespace wavechroma
