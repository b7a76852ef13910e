#pragma once
#include "core/formats/camera_profile.h"
#include "core/formats/cube_lut.h"
#include "core/proof/comparison.h"

#include <functional>
#include <optional>
#include <string>

/// What a general reader makes of camera RGB by a file that any program may have written.
namespace wavechroma {

using CameraColour = std::function<Xyz(const CameraRgb &)>;

/// DNG specification 1.4, chapter 6, and 1.6 for a third light: raw values balanced by the neutral, the
/// lights weighed by the white that their ColorMatrix finds, then ForwardMatrix, hue and saturation table,
/// tone curve. Colour up to a gain: baseline exposure is left out.
[[nodiscard]] CameraColour colourBy(const CameraProfile &profile, const CameraView &camera);

/// By lcms2, relative colorimetric to the D50 PCS. Input: of rendered pictures their codes; of raw frames
/// camera RGB × multipliers × scale, clipped to 0…1, in `coding` (absent: as the profile's own description
/// says where this program wrote it, else linear). Unusable for a profile that takes no RGB.
[[nodiscard]] Result<CameraColour> colourByIcc(const Bytes &profile, const CameraView &camera,
                                               const std::optional<CameraCoding> &coding,
                                               const std::string &name);

/// Input as for a profile, but sRGB-coded where nothing else is said; a table for pictures in a standard
/// space is given what white balance, scale and the file's own matrix make. Output: codes of the space that
/// the table names, else of sRGB.
[[nodiscard]] CameraColour colourByCube(const CubeLut &table, const CameraView &camera,
                                        const std::optional<CameraCoding> &coding);

/// White balance, scale and the file's own matrix.
[[nodiscard]] CameraColour plainColour(const CameraView &camera);

} // namespace wavechroma
