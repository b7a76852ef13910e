#pragma once
#include "core/base/result.h"
#include "core/fit/calibration.h"
#include "core/raw/raw_frame.h"
#include "core/render/render.h"
#include "core/station/stations.h"

#include <filesystem>

namespace wavechroma {

/// How a frame becomes colour: what serves it, and all that goes with that. Pictures, probes and deliveries
/// ask here and nowhere else.
struct PictureServes
{
    Calibration calibration;
    RowId chart = 0;                ///< in a job: the frame that it was made from; 0: given by itself
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

/// What serves a frame of a job in `folder`, by its stations.
[[nodiscard]] PictureServes pictureServes(const JobState &state, const Stations &stations,
                                          const std::filesystem::path &folder, const JobFrame &frame);
/// By a calibration other than the one that the rule names, to look at it: all else stays.
[[nodiscard]] PictureServes pictureServes(const JobState &state, const Stations &stations,
                                          const std::filesystem::path &folder, const JobFrame &frame,
                                          const Calibration &calibration);

/// What serves pictures: a calibration by itself, or a job's stations. Loaded once for all of a call.
class PictureSource
{
public:
    using Serves = PictureServes;
    struct Asked
    {
        std::filesystem::path calibration, job, balance,
            flat; ///< empty: none; the first or the second is given
    };
    [[nodiscard]] static Result<PictureSource> open(const Asked &asked);
    /// A job that is open already.
    [[nodiscard]] static PictureSource of(JobState state, std::filesystem::path folder);

    /// For one frame file. Unusable where it is none of the job's.
    [[nodiscard]] Result<Serves> servesFor(const std::filesystem::path &image) const;
    [[nodiscard]] Serves servesFor(const JobFrame &frame) const;

    [[nodiscard]] const JobState &state() const { return m_state; } ///< empty without a job
    [[nodiscard]] const Stations &stations() const { return m_stations; }
    [[nodiscard]] const std::filesystem::path &folder() const { return m_job; }
    /// The job's row of a file: by path and bytes, else by its bytes. Unusable for a file that is none of the
    /// job's, or another one than was taken from its path.
    [[nodiscard]] Result<const JobFrame *> rowOf(const std::filesystem::path &image) const;
    [[nodiscard]] std::filesystem::path fileOf(const JobFrame &frame) const;

private:
    std::optional<Calibration> m_calibration;
    std::optional<Balance> m_balance;
    std::filesystem::path m_flat, m_job;
    JobState m_state;
    Stations m_stations;
};

/// How many times as bright a frame was taken as its serving chart, by time, aperture and ISO (aperture and
/// ISO where time does not count); nothing where a setting is not known.
[[nodiscard]] std::optional<double> exposureAgainstChart(const CameraFacts &frame,
                                                         const PictureServes &serves);
/// Models of its calibration for a frame's light, with a balance in place of the multipliers.
[[nodiscard]] ModelBlend modelsOf(const RawFrame &frame, const PictureServes &serves);
/// What light is multiplied by: the frame's own level, and at the chart's level what its exposure differs by.
[[nodiscard]] double levelOf(const RawFrame &frame, const PictureServes &serves, bool atChartLevel);
[[nodiscard]] RenderPlan renderPlan(const RawFrame &frame, const PictureServes &serves, const RgbSpace &space,
                                    bool atChartLevel);
/// The frame with the flats that serve it taken out. `remarks`: what is doubtful about them, or that one is
/// missing.
[[nodiscard]] Result<RawFrame> evened(const RawFrame &frame, const PictureServes &serves,
                                      std::vector<words::Phrase> &remarks);

} // namespace wavechroma
