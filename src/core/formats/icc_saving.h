#pragma once
#include "core/formats/whole_file.h"

namespace wavechroma {

/// The bytes of an lcms2 profile (a cmsHPROFILE), with the profile ID of ICC.1:2010 7.2.18, by which readers
/// know it again, and always the same date (7.2.8), so that what is the same is the same file.
[[nodiscard]] Result<Bytes> savedProfile(void *profile);

} // namespace wavechroma
