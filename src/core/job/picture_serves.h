#pragma once
#include "core/values/station.h"

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

namespace wavechroma {

class Job;
struct JobState;

/// How a frame becomes colour: what serves it, and all that goes with that.
struct PictureServes
{
    Calibration calibration;
    bool isByItself = true;         ///< false: a job's rule has chosen it
    RowId chart = 0;                ///< in a job: the chart frame that speaks for the frame; 0: none
    RowId brought = 0;              ///< the calibration brought along that serves it; 0: none
    std::optional<Balance> balance; ///< in place of the multipliers
    std::vector<std::filesystem::path> flats; ///< none: none
    std::vector<Doubt> doubts;
    double level = 1;                          ///< what the frame's own level in the job multiplies light by
    ExposureTime time = ExposureTime::Unknown; ///< whether it counts under this light
    std::optional<Doubt> doubtOfLevel = {};    ///< of the level beside the chart's, see Stations
    double pixelsPerInch = 0;                  ///< by the chart's known size; 0: not known
    double edgeSpread = 0;                     ///< as the chart's focus check has it; 0: not known
    double distortion = 0;                     ///< of camera and lens, see lensDistortion()
    bool isServed = true;                      ///< false: nothing in the job serves it
    std::optional<Error> fault = {};           ///< why not, where a document of the job cannot be read
};

/// What serves a frame of a job, by its stations. Job::serves() keeps the answer.
[[nodiscard]] PictureServes pictureServes(const Job &job, const JobFrame &frame);
/// Returns the same by another calibration than the rule names, to look at it.
[[nodiscard]] PictureServes pictureServes(const Job &job, const JobFrame &frame,
                                          const Calibration &calibration);

/// The flat frames of a station (setup, camera and lens) that are not set aside and were shot at the newest
/// one's aperture, as kept paths, the newest first.
[[nodiscard]] std::vector<std::string> flatsOf(const JobState &state, RowId setup, const CameraFacts &camera);

} // namespace wavechroma
