#pragma once
#include "core/base/result.h"
#include "core/raw/raw_frame.h"

#include <filesystem>
#include <string>

namespace wavechroma {

/// Checks, after everything was read, that the file did not change meanwhile; Unusable if it did.
[[nodiscard]] Result<Done> stillWhole(const RawFrame &frame);

/// Opens any raw file the raw library reads, and TIFF, PNG and JPEG pictures, which are made linear through
/// their embedded ICC profile, or where they have none as what `assume` says: "srgb", "display-p3", "oprgb",
/// "romm". Unusable, naming file and reason, for a missing, empty, truncated, wrong-type or oversized (over
/// 400 megapixel) file, and for pictures in other colours than RGB and grey; never crashes on a hostile one.
/// Thread-safe.
[[nodiscard]] Result<RawFrame> openFrame(const std::filesystem::path &path,
                                         const std::string &assume = "srgb");

} // namespace wavechroma
