#pragma once
#include "core/job/job.h"
#include "core/jobstore/job_store.h"
#include "core/raw/raw_frame.h"
#include "core/station/stations.h"
#include "core/tasks/balance_task.h"
#include "core/tasks/fit_task.h"
#include "core/tasks/read_task.h"

#include <functional>

namespace wavechroma {

/// All four stops for one chart frame.
struct StationPass
{
    Reading reading;
    std::optional<Balance> balance; ///< absent when nothing in the chart can stand for a neutral
    std::vector<Calibration>
        calibrations;          ///< one a crossing, in their order; empty when the reading cannot be fitted
    std::vector<Proof> proofs; ///< one a calibration, of the reading itself
    size_t recommended = 0;    ///< into both
    bool isStopped = false;    ///< a check says `stop`, or nothing could be fitted
    words::Phrase fault;       ///< why nothing could be fitted
    words::Phrase doubt;       ///< what is wrong with references that no camera and light fit
    [[nodiscard]] const Proof *proof() const { return proofs.empty() ? nullptr : &proofs[recommended]; }
};

/// The stops after Read, from a reading: balance, every crossing of colour and tone (for a preview the one
/// asked for), proof. A pass that was stopped has no calibrations.
[[nodiscard]] StationPass passFrom(const Reading &reading, const FitRequest &request,
                                   const Progress &progress = {});

/// The setup that a frame belongs to by its body's clock: the newest one, unless that body has shot on under
/// a later setup since; then the last setup under which it had begun to shoot. 0 in a job without setups.
[[nodiscard]] RowId setupAt(const JobState &state, const CameraFacts &camera);

/// What a new frame meets in its job.
struct Surroundings
{
    std::filesystem::path folder;              ///< of the job
    JobState few;                              ///< setups and frames only: where it belongs, and its flat
    RowId setup = 0;                           ///< put it under this one; 0: setupAt()
    std::vector<ChartDefinition> charts = {};  ///< looked for; empty: the catalogue
    std::vector<ChartDefinition> layouts = {}; ///< see layoutsOf()
    ToleranceSheet sheet = {};                 ///< that the checks are held to
};
/// Those of a job. The state is copied where it is needed later.
[[nodiscard]] Surroundings surroundingsOf(const JobState &state, const std::filesystem::path &folder,
                                          RowId setup = 0);

/// Frames whose files are no longer where the job has them, looked for by their hash among the frame files of
/// a folder and what lies below it (those of the same name first): where they are now. An empty change where
/// none is there. `job`: its folder.
[[nodiscard]] Result<JobChange> foundAgain(const JobState &state, const std::filesystem::path &job,
                                           const std::filesystem::path &folder,
                                           const Progress &progress = {});

/// The charts a job looks for: those of the catalogue, with the reference values that the job uses for them,
/// and its own.
[[nodiscard]] std::vector<ChartDefinition> chartsOf(const JobState &state);
/// Of the job's own charts those whose values are not known, or made up for the demo: without values.
[[nodiscard]] std::vector<ChartDefinition> layoutsOf(const JobState &state);
/// A frame file taken into a job: opened, hashed, its part guessed (a chart found: chart; an even field:
/// flat; else product), and when it is a chart frame all four stops, with the station's flat taken out. Used
/// by the window and the demo.
struct TakenFrame
{
    JobFrame frame;                       ///< without id
    std::optional<FlatVerdict> flat = {}; ///< of a flat frame
    std::optional<StationPass> pass;
    words::Phrase warning; ///< what is wrong with its flats or references, what it was taken for, another day
};
[[nodiscard]] Result<TakenFrame> takeFrame(const Surroundings &job, const std::filesystem::path &file,
                                           const Progress &progress = {});

/// readFrame() with flats by their kept paths (none is allowed), which the reading then names. Flats that
/// cannot serve the frame are left out, and `warning` says why, or what makes them doubtful.
[[nodiscard]] Result<Reading> readWithFlats(const Surroundings &job, const RawFrame &frame,
                                            const std::vector<std::string> &flats,
                                            const Progress &progress = {}, words::Phrase *warning = nullptr);

/// The change that puts taken frames into a job, ids and all. A chart frame with a `stop` is set aside.
[[nodiscard]] JobChange changeFor(const JobState &state, const std::vector<TakenFrame> &frames);

/// Reading and calibrations of a frame replaced by those of a new pass.
[[nodiscard]] JobChange changeFor(const JobState &state, RowId frame, const StationPass &pass);

/// What a new calibration of a frame starts from: what its present one was asked for, with the readings that
/// were merged into it, else an ordinary one for its setup.
[[nodiscard]] FitRequest requestFor(const JobState &state, RowId frame);

/// Is there a job in this folder?
[[nodiscard]] bool holdsJob(const std::filesystem::path &folder);
/// A file's path as the job keeps it: relative where it lies in the job's folder, else absolute.
[[nodiscard]] std::string keptPath(const std::filesystem::path &folder, const std::filesystem::path &file);

/// Files of a kind that is known, of folders; files given by name as they are.
[[nodiscard]] std::vector<std::filesystem::path> framesIn(const std::vector<std::filesystem::path> &paths);

} // namespace wavechroma
