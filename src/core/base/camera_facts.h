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
    std::string capturedAt;                  ///< ISO 8601, local, with an offset only when the file gives one
    std::string uniqueModel;                 ///< DNG UniqueCameraModel, else make and model
    double focalMm = 0;                      ///< as the lens has it, not the equivalent of another format
    std::optional<bool> balancesItself = {}; ///< did the camera choose its white balance by the picture?
    bool isRendered = false; ///< of a picture that the camera or a program made, not of a raw file
    bool operator==(const CameraFacts &) const = default;
};

/// The focal length that tells lenses without a name apart, such as the modules of a phone: in tenths of a
/// millimetre. 0 for a lens that has a name, and for one of which nothing is said.
[[nodiscard]] inline int tellingFocalLength(const CameraFacts &camera)
{
    return camera.lens.empty() ? int(10 * camera.focalMm + 0.5) : 0;
}

/// One body with one lens, in files of one kind: a raw frame and a picture made of it have nothing in common
/// that a calibration holds for. Sensor sizes tell modules apart too: see JobFrame.
[[nodiscard]] inline bool samePair(const CameraFacts &a, const CameraFacts &b)
{
    return a.make == b.make && a.model == b.model && a.serial == b.serial && a.lens == b.lens &&
           tellingFocalLength(a) == tellingFocalLength(b) && a.isRendered == b.isRendered;
}

/// XYZ of a light (relative, any scale) → camera RGB, as the DNG specification's ColorMatrix tags.
struct FileColorMatrix
{
    Matrix3 cameraFromXyz;
    int illuminantCode = 0; ///< EXIF LightSource, 0 when unknown
    bool operator==(const FileColorMatrix &) const = default;
};

/// What the codes of one channel of a rendered picture stand for: the code, 0…1, of each lightness L*/100 at
/// even steps from 0 to 1, not falling.
using CodeCurve = std::vector<double>;

/// The colour knowledge that a file itself carries. A raw file: at most two matrices and the as-shot neutral.
/// A rendered picture: what its linear samples mean.
struct FileColor
{
    std::vector<FileColorMatrix> matrices;
    std::optional<Vector3> asShotNeutral;
    std::optional<Matrix3> xyzD50FromRendered =
        {}; ///< from its profile, (1,1,1) to the D50 white; absent for raw files
    /// Of a rendered picture: red, green, blue; none where its profile holds more than a curve a channel.
    std::vector<CodeCurve> renderedCodes = {};
    bool operator==(const FileColor &) const = default;
};

} // namespace wavechroma
