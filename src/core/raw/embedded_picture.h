#pragma once
#include "core/base/result.h"
#include "core/raw/raw_frame.h"

#include <filesystem>

namespace wavechroma {

/// The picture that a raw file holds of itself, as its camera made it: linear through its own profile, as
/// sRGB where it has none. Of whatever size, and as it lies in the file: turned as the frame is, or upright
/// already. Unusable where there is none, or in a form that is not read (JPEG and plain RGB are).
[[nodiscard]] Result<RawFrame> embeddedPicture(const std::filesystem::path &path);

} // namespace wavechroma
