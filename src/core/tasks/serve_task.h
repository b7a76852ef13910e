#pragma once
#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/tasks/job_task.h"

#include <filesystem>
#include <string>
#include <vector>

namespace wavechroma {

/// What frames of a job are to be served by: "auto" for the rule, or a frame's file. A chart of their station
/// serves them, refused by its checks or not. Any other frame of the station says what white is: a grey card
/// in it, or an even field that fills it (a disc, a board); it becomes a grey of the job.
struct ServeRequest
{
    std::filesystem::path job;
    std::vector<std::filesystem::path> frames;
    std::string by = "auto";
};

/// The stops of a frame that says what white is, read as a grey card in it or as an even field that fills it.
/// Unusable where it shows neither, and where no white balance comes of it.
[[nodiscard]] Result<StationPass> whitePass(const JobState &state, const std::filesystem::path &file,
                                            const JobFrame &row, const Progress &progress = {});

/// Serves the frames so, in one change. Returns how many are now served otherwise than before. Unusable, with
/// nothing changed, where a file is no frame of the job, `by` is of another station than a frame, or says
/// nothing of white.
[[nodiscard]] Result<int> serveFrames(const ServeRequest &request, const Progress &progress = {});

} // namespace wavechroma
