#include "core/values/profile_settings.h"
#include "core/base/said.h"

namespace wavechroma {

template <ProfileFile... file> static bool isWith(const ProfileSettings &settings)
{
    return (settings.has(file) || ...);
}

const std::vector<SettingRow<ProfileSettings>> &profileSettings()
{
    using S = ProfileSettings;
    static const std::vector<SettingRow<S>> rows{
        settingOf<&S::linearTone>(
            {.key = "linear_tone",
             .flag = "--linear-tone",
             .label = words::said("Straight tone curve in the DNG profile, for reproduction"),
             .help = words::said("put a straight tone curve into the DNG camera profile"),
             .brief = nullptr},
            isWith<ProfileFile::Dcp>),
        settingOf<&S::iccCoding>(
            {.key = "icc_encoding",
             .flag = "--icc-encoding",
             .label = "ICC profile expects",
             .help = words::said("coding of the camera RGB that the ICC profile expects"),
             .brief = nullptr,
             .choices = {{"linear", "linear camera RGB"}, {"srgb", words::said("sRGB-coded camera RGB")}}},
            isWith<ProfileFile::Icc>),
        settingOf<&S::iccVersion>(
            {.key = "icc_version",
             .flag = "--icc-version",
             .label = "ICC version",
             .help = words::said("version of the ICC profile; older programs read 2 only"),
             .brief = nullptr,
             .choices = {{"4", "4"}, {"2", "2, for older programs"}}},
            isWith<ProfileFile::Icc>),
        settingOf<&S::iccTable>(
            {.key = "icc_table",
             .flag = "--icc-table",
             .label = words::said("ICC profile as a table"),
             .help = words::said("write the ICC profile as a table (A2B0) even where a matrix would do"),
             .brief = nullptr},
            isWith<ProfileFile::Icc>),
        settingOf<&S::cubeCoding>({.key = "cube_encoding",
                                   .flag = "--cube-encoding",
                                   .label = "3D table expects",
                                   .help = words::said("coding of the camera RGB that the .cube expects"),
                                   .brief = nullptr,
                                   .choices = {{"linear", "linear camera RGB"},
                                               {"srgb", words::said("sRGB-coded camera RGB")},
                                               {"oprgb", words::said("opRGB-coded camera RGB")},
                                               {"log", words::said("camera RGB as a logarithm")}}},
                                  isWith<ProfileFile::Cube, ProfileFile::Clf>),
        settingOf<&S::cubeSpace>({.key = "space",
                                  .flag = "--space",
                                  .label = "3D table gives",
                                  .help = words::said("colour space of the .cube's output"),
                                  .brief = nullptr,
                                  .choices = {{"srgb", "sRGB"},
                                              {"display-p3", "Display P3"},
                                              {"oprgb", "opRGB"},
                                              {"romm", "ROMM RGB"}}},
                                 isWith<ProfileFile::Cube, ProfileFile::PictureCube, ProfileFile::Clf>),
        settingOf<&S::cubeOutput>({.key = "output_encoding",
                                   .flag = "--output-encoding",
                                   .label = "… coded",
                                   .help = words::said("coding of the .cube's output"),
                                   .brief = nullptr,
                                   .choices = {{"own", words::said("in the space's own curve")},
                                               {"linear", "linear"},
                                               {"srgb", words::said("in the sRGB curve")},
                                               {"oprgb", words::said("in the opRGB curve")},
                                               {"log", "as a logarithm"}}},
                                  isWith<ProfileFile::Cube, ProfileFile::Clf>),
        settingOf<&S::cubePoints>(
            {.key = "points",
             .flag = "--size",
             .label = words::said("Points on each side"),
             .help =
                 words::said("points on each side of the .cube; auto: 33, or 65 where that is too coarse"),
             .brief = nullptr,
             .choices = {{"auto", "33, or 65 where needed"}, {"17", "17"}, {"33", "33"}, {"65", "65"}}},
            isWith<ProfileFile::Cube, ProfileFile::PictureCube, ProfileFile::Clf>),
        settingOf<&S::lights>(
            {.key = "lights",
             .flag = nullptr,
             .label = "Several lights",
             .help = words::said("lights of one camera and lens: a profile for each, or one DNG profile "
                                 "for two or three of them"),
             .brief = nullptr,
             .choices = {{"each", "a profile for each"},
                         {"joined", words::said("one DNG profile for two or three")}}},
            isWith<ProfileFile::Dcp>),
        settingOf<&S::name>(
            {.key = "profile_name",
             .flag = nullptr,
             .label = words::said("Name in the profiles"),
             .help = words::said("name in the profiles, with {calibration}, {setup}, {camera}, {lens} and "
                                 "{date}; empty: the calibration's own"),
             .brief = nullptr,
             .unset = words::said("as the calibration is called")}),
        settingOf<&S::copyright>({.key = "copyright",
                                  .flag = "--copyright",
                                  .label = "Copyright",
                                  .help = words::said("copyright notice in the profiles"),
                                  .brief = nullptr}),
    };
    return rows;
}

const std::vector<ProfileFileRow> &profileFiles()
{
    static const std::vector<ProfileFileRow> rows{
        {ProfileFile::Dcp, "dcp", ".dcp", words::said("DNG camera profile (.dcp)"), false},
        {ProfileFile::Icc, "icc", ".icc", words::said("ICC input profile (.icc)"), true},
        {ProfileFile::Cube, "cube", ".cube", "3D table (.cube)", true},
        {ProfileFile::Csv, "csv", ".csv", words::said("Matrix and patches as CSV"), false},
        {ProfileFile::Cgats, "cgats", ".txt", words::said("Patches as CGATS.17 text"), false},
        {ProfileFile::Sectors, "sectors", "-sectors.csv", words::said("Eight hue sectors as CSV"), false},
        {ProfileFile::ChartDng, "chart-dng", ".dng",
         words::said("The chart frame as a DNG with profile and white balance inside"), false},
        {ProfileFile::PictureCube, "picture-cube", "-picture.cube",
         words::said("3D table for rendered pictures (.cube)"), true},
        {ProfileFile::Clf, "clf", ".clf", words::said("Table in the Common LUT Format (.clf)"), true},
    };
    return rows;
}

} // namespace wavechroma
