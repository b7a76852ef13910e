#pragma once
#include "core/base/camera_facts.h"
#include "core/raw/dng_directory.h"

namespace wavechroma::raw {

/// The matrices and the as-shot neutral of a DNG file's first directory: XYZ → camera is AnalogBalance ×
/// CameraCalibration × ColorMatrix, and AsShotWhiteXY becomes a neutral through it (Digital Negative
/// Specification 1.7.1.0, chapter 6). Two matrices are kept where there are three. Each matrix is multiplied
/// before they are interpolated by light; the specification interpolates the factors, which is the same
/// wherever both lights have one CameraCalibration.
[[nodiscard]] FileColor dngColorOf(const DngDirectory &first);

} // namespace wavechroma::raw
