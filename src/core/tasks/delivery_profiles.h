#pragma once
#include "core/tasks/picture_source.h"
#include "core/values/delivery.h"

/// Which calibrations a delivery's profiles are made of; shared by its plan and its writing, not for front
/// ends.
namespace wavechroma {

/// A calibration of the job by its chart frame, two or three of them joined, one brought along, or a
/// document.
struct ProfileSource
{
    std::vector<RowId> charts;
    std::string document;  ///< a path, absolute or from the job's folder; empty: none
    RowId calibration = 0; ///< one brought along; 0: none
    bool operator==(const ProfileSource &) const = default;
};

/// The chart whose calibration a frame's profile is made of: its own for a chart frame that has one, else
/// what serves it. 0: none.
[[nodiscard]] RowId profileChartOf(const PictureSource &source, const JobFrame &frame,
                                   const PictureServes &serves);
/// One source for each chart, or those of one camera and lens together: of several charts of one setup the
/// last one, since one light is in a profile once.
[[nodiscard]] std::vector<ProfileSource>
profileSources(const JobState &state, const std::vector<RowId> &charts, ProfileLights lights);
/// Another calibration in place of a job's own, of that chart (0: of none).
using InPlaceOf = std::function<Result<Calibration>(const Calibration &own, RowId chart)>;
/// The calibration itself, joined, and named so that files of other bodies and ISO settings of the job have
/// another name; before that `inPlace` is asked of each. Unusable for one that is gone or cannot be read.
[[nodiscard]] Result<Calibration> calibrationOf(const PictureSource &source, const ProfileSource &profile,
                                                const InPlaceOf &inPlace);

} // namespace wavechroma
