#pragma once
#include "core/tasks/take_task.h"

#include <functional>

namespace wavechroma {

/// What is said of a frame that was taken from a watched folder.
struct FrameAnswer
{
    std::string name;  ///< of its file
    std::string state; ///< of a chart "good", "look-again", "shoot-again" or "none"; of a product "served",
                       ///< "doubt" or "unserved"; "flat"; "picture" of a raw frame of the same release
    std::string sentence;
};

struct WatchOptions
{
    TakeOptions take = {};
    bool once = false; ///< what is there now, then it ends
    std::function<void(const FrameAnswer &)> onAnswer;
    std::function<void(const Error &)>
        onProblem; ///< of single files, and what a job says that is open elsewhere
};

/// Takes frames from a folder into a job (see takeIntoJob()) as each is complete: it has kept its size and
/// time for two looks and is whole by its own format (see extentOf()), or has stayed short for half a minute.
/// Frames that the job has are passed over without a word. Ends when stopped. Unusable where the folder is
/// not there, or goes away.
[[nodiscard]] Result<Done> watchFolder(const std::filesystem::path &job, const std::filesystem::path &folder,
                                       const WatchOptions &options, const Progress &progress = {});

} // namespace wavechroma
