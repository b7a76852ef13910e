#pragma once
#include "core/base/progress.h"
#include "core/base/result.h"

#include <filesystem>

namespace wavechroma {

struct DemoOptions
{
    int shrink = 2; ///< divides the frames' width and height
};

/// Makes the demo job in a folder that is empty or not there yet: a day at a dye house by a harbour, raw
/// frames taken by the simulated studio and read like any others. A folder with a job in it is refused.
/// Stopped half way, it leaves the frames made so far and no job.
[[nodiscard]] Result<Done> makeDemo(const std::filesystem::path &folder, const DemoOptions &options = {},
                                    const Progress &progress = {});

} // namespace wavechroma
