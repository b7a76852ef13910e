#pragma once
#include "core/raw/file_extent.h" // for whoever watches a folder
#include "core/tasks/job_task.h"

#include <filesystem>

/// A whole shoot taken into a job without a window: the same frames, readings and answers as when dropped on
/// it.
namespace wavechroma {

struct TakeOptions
{
    std::string setup;                 ///< title of the one setup that all go to; empty: see takeIntoJob()
    std::optional<LampKind> lamp = {}; ///< of the setups that the call makes, and of `setup`
    /// What the frames show, kept with the job: later frames are looked at for it too. One whose values are
    /// not known is found by its layout. Absent: the catalogue and the job's own.
    std::optional<ChartDefinition> chart = {};
    std::optional<ToleranceSheet> sheet = {}; ///< that the job's checks are held to from now on
};

struct TakeReport
{
    int taken = 0, known = 0;         ///< frames; known ones were in the job before and add nothing
    std::vector<Error> problems = {}; ///< of single files, each named; the others are taken all the same
    /// Where a setup may have to be parted, among the frames that were added: see partingsOf().
    std::vector<words::Phrase> partings = {};
};

/// Takes frames and folders of frames into the job of a folder, which is made when there is none. Frames are
/// looked at in parallel and put into the job in the order of their time, in one change.
///
/// Setups: `options.setup` puts all into one, made when absent; else each sub-folder with frames of a folder
/// given is a setup of its name; else frames of one flat folder, or given one by one, are divided where the
/// light differs: a new setup begins with the first frame of the run of chart and flat frames in which a
/// chart's neutral differs in red/green or blue/green by more than 4 % from the charts of the same pair
/// before it in the present setup; other pairs follow by time. Unusable when nothing can be taken, or the job
/// cannot be written.
[[nodiscard]] Result<TakeReport> takeIntoJob(const std::filesystem::path &folder,
                                             const std::vector<std::filesystem::path> &paths,
                                             const TakeOptions &options = {}, const Progress &progress = {});

/// A file that is to go to a setup.
struct FileForSetup
{
    std::filesystem::path file;
    RowId setup = 0;
};
/// Takes frames in parallel, with the same result as takeFrame() one after the other. The first that cannot
/// be taken is the error.
[[nodiscard]] Result<std::vector<TakenFrame>> takeFrames(const JobState &state,
                                                         const std::filesystem::path &folder,
                                                         const std::vector<FileForSetup> &files,
                                                         const Progress &progress = {});

} // namespace wavechroma
