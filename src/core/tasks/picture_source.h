#pragma once
#include "core/base/result.h"
#include "core/fit/calibration.h"
#include "core/job/job.h"
#include "core/raw/raw_frame.h"
#include "core/render/render.h"
#include "core/station/stations.h"

#include <filesystem>

namespace wavechroma {

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
    [[nodiscard]] static PictureSource of(Job job);

    /// Returns what serves one frame file. Unusable if it is not a frame of the job.
    [[nodiscard]] Result<Serves> servesFor(const std::filesystem::path &image) const;
    [[nodiscard]] Serves servesFor(const JobFrame &frame) const;

    [[nodiscard]] const Job &job() const { return m_job; } ///< empty without one
    [[nodiscard]] const JobState &state() const { return m_job.rows(); }
    [[nodiscard]] const std::filesystem::path &folder() const { return m_job.folder(); }
    /// The job's row of a file: by path and bytes, else by its bytes. Unusable for a file that is none of the
    /// job's, or another one than was taken from its path.
    [[nodiscard]] Result<const JobFrame *> rowOf(const std::filesystem::path &image) const;
    [[nodiscard]] std::filesystem::path fileOf(const JobFrame &frame) const { return m_job.fileOf(frame); }

private:
    std::optional<Calibration> m_calibration;
    std::optional<Balance> m_balance;
    std::filesystem::path m_flat;
    Job m_job;
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
