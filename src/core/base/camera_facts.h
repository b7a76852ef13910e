#pragma once
#include "core/base/matrix3.h"

#include <optional>
#include <string>
#include <vector>

namespace wavechroma {

/// What a frame file says of the camera that made it. Empty or zero where it says nothing.
struct CameraFacts
{
    std::string make, model; ///< as the raw library normalises them
    std::string serial, lens;
    double iso = 0;
    double exposureSeconds = 0;
    double fNumber = 0;
    std::string capturedAt;  ///< ISO 8601, local, with an offset only when the file gives one
    std::string uniqueModel; ///< DNG UniqueCameraModel, else make and model
    bool operator==(const CameraFacts &) const = default;
};

/// One body with one lens. Sensor sizes tell modules of one body apart where the lens has no name: see
/// JobFrame.
[[nodiscard]] inline bool samePair(const CameraFacts &a, const CameraFacts &b)
{
    return a.make == b.make && a.model == b.model && a.serial == b.serial && a.lens == b.lens;
}

/// XYZ of a light (relative, any scale) → camera RGB, as the DNG specification's ColorMatrix tags.
struct FileColorMatrix
{
    Matrix3 cameraFromXyz;
    int illuminantCode = 0; ///< EXIF LightSource, 0 when unknown
    bool operator==(const FileColorMatrix &) const = default;
};

/// The colour knowledge that a file itself carries. A raw file: at most two matrices and the as-shot neutral.
/// A rendered picture: what its linear samples mean.
struct FileColor
{
    std::vector<FileColorMatrix> matrices;
    std::optional<Vector3> asShotNeutral;
    std::optional<Matrix3> xyzD50FromRendered =
        {}; ///< from its profile, (1,1,1) to the D50 white; absent for raw files
    bool operator==(const FileColor &) const = default;
};

} // namespace wavechroma
