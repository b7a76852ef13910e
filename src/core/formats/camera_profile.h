#pragma once
#include "core/fit/calibration.h"
#include "core/formats/whole_file.h"

#include <optional>

namespace wavechroma {

/// What a DNG camera profile holds, as far as this program writes it (DNG specification 1.4, "Camera Profiles";
/// IlluminantData1 is of 1.6). Matrices are DNG's: colorMatrix XYZ → camera, forwardMatrix white-balanced camera → D50.
struct CameraProfile {
    std::string cameraModel, name, copyright;
    int illuminantCode = 255;
    std::optional<Chromaticity> illuminant; ///< with code 255
    Matrix3 colorMatrix, forwardMatrix;
    int embedPolicy = 0;                    ///< 0: may be copied freely
    bool linearTone = false;                ///< an explicit straight tone curve and no black rendering
    double baselineExposureOffset = 0;
    bool operator==(const CameraProfile &) const = default;
};

struct CameraProfileOptions {
    bool linearTone = false;
    std::string copyright;
};

/// Colour only: the exposure scale is not in it.
[[nodiscard]] CameraProfile cameraProfileOf(const Calibration &calibration, const CameraProfileOptions &options = {});
[[nodiscard]] Bytes fileOf(const CameraProfile &profile);
[[nodiscard]] Result<CameraProfile> cameraProfileFrom(const Bytes &file, const std::string &name);

} // namespace wavechroma
