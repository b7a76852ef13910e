#pragma once
#include "core/base/progress.h"
#include "core/base/result.h"

#include <filesystem>

namespace wavechroma {

struct DemoOptions
{
    int shrink = 2; ///< divides the frames' width and height
    int days = 2;   ///< 1: the first alone, of 17 frames
};

/// Makes the demo job in a folder that is empty or not there yet: two days at a dye house by a harbour, raw
/// frames taken by the simulated studio and read like any others. The second brings what days bring beside a
/// chart for each light: a grey card alone, raw frames with the camera's pictures, two ISO settings, a lamp
/// left on, and a frame shot two days later. A folder with a job in it is refused. Stopped half way, it
/// leaves the frames made so far and no job.
[[nodiscard]] Result<Done> makeDemo(const std::filesystem::path &folder, const DemoOptions &options = {},
                                    const Progress &progress = {});

} // namespace wavechroma
