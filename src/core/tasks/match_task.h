#pragma once
#include "core/tasks/fit_task.h"

#include <filesystem>

namespace wavechroma {

/// A reading fitted to the look of another picture of the same chart, as that camera, or whoever finished the
/// picture, made its patches. The chart is read in `picture`; its reading is written to `kept` and is what
/// the calibration says it was matched to. Unusable where no chart of the reading's kind is found in the
/// picture, or a check of it says `stop`.
[[nodiscard]] Result<Calibration> fitToPicture(const Reading &reading, const std::filesystem::path &picture,
                                               const std::filesystem::path &kept, FitRequest request,
                                               const Progress &progress = {});
/// The same with a reading of the job in place of the picture.
[[nodiscard]] Result<Calibration> fitToReading(const Reading &reading, const Reading &other,
                                               const std::filesystem::path &kept, FitRequest request,
                                               const Progress &progress = {});

} // namespace wavechroma
