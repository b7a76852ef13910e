#pragma once
#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/formats/record_document.h"
#include "core/tasks/picture_source.h"

#include <filesystem>
#include <string>
#include <vector>

namespace wavechroma {

struct RecordRequest
{
    std::vector<std::string> stations;             ///< by name; none: all that have frames
    std::vector<std::filesystem::path> deliveries; ///< folders with receipts, besides those the job knows
    std::string madeAt;                            ///< ISO 8601
    /// Readings and calibrations are made anew from the frames, and hashes are those of the files as they lie
    /// there, in place of what the job has stored.
    bool fromFrames = false;
};

/// Every figure of a job's evidence. Frames with probes are opened; files that cannot be are named in
/// `unread`. Receipts are those of the job's delivery folders (`handover/…`, the forms' own) and of
/// `request.deliveries`. Unusable for a station that the job has not, naming those it has, for a look that
/// was learnt (it is no measure), and when stopped.
[[nodiscard]] Result<JobRecord> recordOf(const PictureSource &source, const RecordRequest &request,
                                         const Progress &progress = {});

/// Computes every figure of a record again from the job's frames and names those that differ. Delivered
/// files are hashed where their receipts say they lie. Unusable for what is no record and no job.
[[nodiscard]] Result<std::vector<RecordDifference>> verified(const std::filesystem::path &record,
                                                             const std::filesystem::path &job,
                                                             const Progress &progress = {});

} // namespace wavechroma
