#pragma once
#include "core/base/result.h"
#include "core/fit/calibration.h"

#include <filesystem>
#include <optional>

namespace wavechroma {

struct ExportRequest {
    std::optional<std::filesystem::path> dcp, icc, csv, cgats;
    std::string encoding = "linear"; ///< of the ICC profile: "linear" or "srgb"
    bool linearTone = false;         ///< a straight tone curve in the camera profile, for reproduction work
    std::string copyright;
};

struct ExportedFile {
    std::filesystem::path path;
    std::string what; ///< "DNG camera profile"
    size_t bytes = 0;
};

/// Makes all files asked for in memory, reads the profiles back and compares them with the calibration, then writes all
/// or none.
[[nodiscard]] Result<std::vector<ExportedFile>> exportCalibration(const Calibration &calibration, const ExportRequest &request);

} // namespace wavechroma
