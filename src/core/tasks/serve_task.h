#pragma once
#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/tasks/job_task.h"
#include "core/tasks/refusals.h"

#include <array>
#include <filesystem>
#include <optional>
#include <string>
#include <vector>

namespace wavechroma {

/// What frames of a job are to be served by: "auto" for the rule, a frame's file, a document, or the name of
/// a calibration that was brought along before. A chart of their station serves them, refused by its checks
/// or not. Any other frame of the station says what white is: a grey card in it, or an even field that fills
/// it (a disc, a board); it becomes a grey of the job. A `wavechroma.calibration/1` (matched to another look,
/// joined of several lights, with other parts, of elsewhere) or a preset becomes one of the job's own.
struct ServeRequest
{
    std::filesystem::path job;
    std::vector<std::filesystem::path> frames;
    std::string by = "auto";
    bool force =
        false; ///< all the same, where it is in doubt: another camera or light, a white that no lamp gives
    /// x, y, width, height in frame pixels: of `by`, a frame's file, only this area says what white is.
    std::optional<std::array<double, 4>> area = {};
};

/// The stops of a frame that says what white is, read as a grey card in it or as an even field that fills it.
/// Unusable where it shows neither, and where no white balance comes of it.
[[nodiscard]] Result<StationPass> whitePass(const JobState &state, const std::filesystem::path &file,
                                            const JobFrame &row, const Progress &progress = {});

/// What speaks against a calibration for a frame's file: another camera or lens, another light by what the
/// cameras took for white, or one outside of the lights that were joined. The file is opened for it.
[[nodiscard]] Result<Refusal> doubtedCalibration(const Calibration &calibration,
                                                 const std::filesystem::path &file);
/// The change that serves frames (ids) by a calibration brought along; a row for it where the job has none
/// with the same document.
[[nodiscard]] JobChange servedByCalibration(const JobState &state, const std::vector<RowId> &frames,
                                            const Calibration &calibration);

/// Serves the frames so, in one change. Returns how many are now served otherwise than before. Unusable, with
/// nothing changed, where a file is no frame of the job, `by` is of another station than a frame, says
/// nothing of white, or is in doubt.
[[nodiscard]] Result<int> serveFrames(const ServeRequest &request, const Progress &progress = {});

} // namespace wavechroma
