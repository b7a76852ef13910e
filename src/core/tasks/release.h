#pragma once
#include "core/jobstore/job_rows.h"

#include <vector>

namespace wavechroma {

/// Is the rendered frame what the camera wrote beside the raw one at the same release of the shutter? Their
/// names are the same but for the ending, and where both files say so, camera and time of capture. Where one
/// does not say its time they lie in one folder.
[[nodiscard]] bool isOfOneRelease(const JobFrame &rendered, const JobFrame &raw);

/// Which of the frames that are taken are the picture of a raw one among them or in the job, and so no frames
/// of their own: the raw one gets their path.
struct Releases
{
    std::vector<bool> isPicture; ///< one for each that is taken
    int known = 0;               ///< of these, those that the job knew
    /// Of the job's rows: raw frames that get a picture, and rendered ones that were taken before their raw
    /// file came, and on which nothing lies. They go.
    JobChange change;
};
[[nodiscard]] Releases pairReleases(const JobState &state, const std::vector<JobFrame *> &taken);

} // namespace wavechroma
