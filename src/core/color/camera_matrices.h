#pragma once
#include "core/base/camera_facts.h"
#include "core/color/colors.h"

#include <optional>

namespace wavechroma {

/// Temperatures of the EXIF LightSource codes as the DNG specification takes them for interpolation; 5 000
/// for others.
[[nodiscard]] double kelvinOfExifCode(int code);

/// The file's XYZ → camera matrix for that light, interpolated in mired. Nothing where the file has none.
[[nodiscard]] std::optional<Matrix3> cameraFromXyzFor(const FileColor &color, const Chromaticity &light);

} // namespace wavechroma
