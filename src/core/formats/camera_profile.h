#pragma once
#include "core/fit/calibration.h"
#include "core/formats/hue_sat_map.h"
#include "core/formats/tag_directory.h"
#include "core/formats/whole_file.h"

#include <optional>
#include <vector>

namespace wavechroma {

/// What a DNG camera profile says of one light. Matrices are DNG's: colorMatrix XYZ → camera, forwardMatrix
/// white-balanced camera → D50.
struct ProfileLight
{
    int illuminantCode = 255;
    std::optional<Chromaticity> illuminant; ///< with code 255
    Matrix3 colorMatrix, forwardMatrix;
    HueSatMap map; ///< all lights' are of one size
    bool operator==(const ProfileLight &) const = default;
};

/// What a DNG camera profile holds, as far as this program writes it (DNG specification 1.4, "Camera
/// Profiles"; IlluminantData and a third light are of 1.6).
struct CameraProfile
{
    std::string cameraModel, name, copyright;
    std::vector<ProfileLight> lights; ///< one to three
    int embedPolicy = 0;              ///< 0: may be copied freely
    bool linearTone = false;          ///< an explicit straight tone curve and no black rendering
    DngTone tone;                     ///< the model's own, where it has one
    double baselineExposureOffset = 0;
    Agreement agreement; ///< of the light whose table is worst (ProfileColor); not in the file
};

struct CameraProfileOptions
{
    bool linearTone = false;
    std::string copyright;
};

/// Colour only: the exposure scale is not in it.
[[nodiscard]] CameraProfile cameraProfileOf(const Calibration &calibration,
                                            const CameraProfileOptions &options = {});
/// Returns the profile's tags, unsorted, for a file of its own or a DNG's first directory.
[[nodiscard]] std::vector<tags::Tag> tagsOf(const CameraProfile &profile);
[[nodiscard]] Bytes fileOf(const CameraProfile &profile);
/// Reads a profile from the tags of a profile file or of a DNG.
[[nodiscard]] Result<CameraProfile> cameraProfileOf(const std::vector<tags::Tag> &tags,
                                                    const std::string &name);
[[nodiscard]] Result<CameraProfile> cameraProfileFrom(const Bytes &file, const std::string &name);

} // namespace wavechroma
