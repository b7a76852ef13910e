#pragma once
#include "core/formats/camera_profile.h"

namespace wavechroma {

/// A copy of a DNG file whose own colour is the profile's and whose as-shot neutral is the one given (camera
/// RGB, green 1). The first directory is written anew behind all that was there; pictures, makers' notes and
/// everything else stay where they are. Colour tags that would speak against the profile (other matrices,
/// camera calibrations, analogue balance, as-shot white, an older profile's tables) go. Either byte order.
/// Unusable where the file is no DNG or points outside itself.
[[nodiscard]] Result<Bytes> withProfile(const Bytes &dng, const CameraProfile &profile,
                                        const Vector3 &asShotNeutral, const std::string &name);
/// Whether a tag of the first directory is not the original's in such a copy: of colour, or a version.
[[nodiscard]] bool isReplacedByProfile(uint16_t tag);

} // namespace wavechroma
