#pragma once
#include "core/color/rgb_space.h"
#include "core/values/setting_row.h"

#include <algorithm>

namespace wavechroma {

/// How 0…1 of linear light is coded. A table's input is balanced camera RGB times exposure scale, clipped to
/// 0…1, in one of these.
enum class CameraCoding {
    Linear,
    Srgb,  ///< IEC 61966-2-1's transfer
    OpRgb, ///< IEC 61966-2-5's
    Log    ///< log2(1 + 255 x) / 8: even steps of light from a middle grey up, nearly linear below
};
enum class IccCoding { Linear, Srgb };
enum class IccVersion { Four, Two };
enum class CubePoints { Fitting, P17, P33, P65 }; ///< Fitting: 33, or 65 where that is too coarse
enum class CubeOutput { OwnCurve, Linear, Srgb, OpRgb, Log };
/// Lights of one camera and lens: a profile for each, or one DNG profile for two or three together.
enum class ProfileLights { Each, Joined };

/// A file that a calibration can be written as.
enum class ProfileFile { Dcp, Icc, Cube, Csv, Cgats, Sectors, ChartDng, PictureCube, Clf };
struct ProfileFileRow
{
    ProfileFile file;
    const char *id;     ///< in documents
    const char *ending; ///< of its file name
    const char *label;
    bool isOfOneLight; ///< it cannot hold a calibration of several lights
};
[[nodiscard]] const std::vector<ProfileFileRow> &profileFiles(); ///< in the order of the enumeration

/// How the files of a calibration are made for other programs.
struct ProfileSettings
{
    std::vector<ProfileFile> files{ProfileFile::Dcp, ProfileFile::Icc}; ///< at least one; not a row
    IccCoding iccCoding = IccCoding::Linear; ///< of the camera RGB that the ICC profile expects
    IccVersion iccVersion = IccVersion::Four;
    bool iccTable = false;                        ///< A2B0 even where a matrix would do
    CameraCoding cubeCoding = CameraCoding::Srgb; ///< of the camera RGB that the .cube expects
    RgbSpaceId cubeSpace = RgbSpaceId::Srgb;      ///< of the .cube's output
    CubeOutput cubeOutput = CubeOutput::OwnCurve;
    CubePoints cubePoints = CubePoints::Fitting;
    bool linearTone = false; ///< a straight tone curve in the DNG profile
    ProfileLights lights = ProfileLights::Each;
    std::string copyright;
    /// Name in the profiles, with the places of Delivery::names; empty: the calibration's own name.
    std::string name;
    [[nodiscard]] bool has(ProfileFile file) const
    {
        return std::find(files.begin(), files.end(), file) != files.end();
    }
    bool operator==(const ProfileSettings &) const = default;
};

[[nodiscard]] const std::vector<SettingRow<ProfileSettings>> &profileSettings();

} // namespace wavechroma
