#pragma once
#include "core/balance/balance.h"
#include "core/base/lazy.h"
#include "core/base/shared_vector.h"
#include "core/capture/lamp_kind.h"
#include "core/chart/chart_definition.h"
#include "core/fit/calibration.h"
#include "core/jobstore/common_parts.h"
#include "core/proof/probe.h"
#include "core/proof/proof.h"
#include "core/values/job_rows.h"
#include "core/values/reading.h"

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

namespace wavechroma {

[[nodiscard]] const char *nameOf(FramePart part); ///< "chart" …
[[nodiscard]] std::optional<FramePart> partFrom(const std::string &name);

[[nodiscard]] JobReading jobReading(RowId id, RowId frame, Reading reading);

/// `proof`: of the reading it was made from, where there is one.
[[nodiscard]] JobCalibration jobCalibration(RowId id, RowId frame, Calibration calibration, bool recommended,
                                            const Proof *proof);

/// All rows of a job, in the order of their ids. Copies share them, see SharedVector.
struct JobState
{
    JobTitle title;
    SharedVector<JobSetup> setups;
    SharedVector<JobFrame> frames;
    SharedVector<JobReading> readings;
    SharedVector<JobCalibration> calibrations;
    SharedVector<JobChart> charts;
    SharedVector<JobProbe> probes;
    SharedVector<JobTarget> targets;
    SharedVector<JobDelivery> deliveries;
    CommonParts common; ///< made of the rows, by apply() and on loading

    [[nodiscard]] const JobFrame *frame(RowId id) const;
    [[nodiscard]] const JobReading *readingOf(RowId frame) const;
    [[nodiscard]] const JobCalibration *calibrationOf(RowId frame, const Parts &parts) const;
    [[nodiscard]] const JobCalibration *calibration(RowId id) const;                     ///< null: none
    [[nodiscard]] std::vector<const JobCalibration *> calibrationsOf(RowId frame) const; ///< in their order
    [[nodiscard]] std::vector<const JobProbe *> probesOf(RowId frame) const;
    bool operator==(const JobState &) const = default;
};

/// Everything that one action of the user changes. Applied in one transaction; its reverse undoes it.
struct JobChange
{
    std::vector<RowChange<JobTitle>> titles;
    std::vector<RowChange<JobSetup>> setups;
    std::vector<RowChange<JobFrame>> frames;
    std::vector<RowChange<JobReading>> readings;
    std::vector<RowChange<JobCalibration>> calibrations;
    std::vector<RowChange<JobChart>> charts;
    std::vector<RowChange<JobProbe>> probes = {};
    std::vector<RowChange<JobTarget>> targets = {};
    std::vector<RowChange<JobDelivery>> deliveries = {};
    [[nodiscard]] bool isEmpty() const;
};
/// Calls `f` with the rows of a JobState and the changes of a JobChange (pointers to members) of each kind
/// but the title: what is done to every kind is said once.
template <class F> void forEachKind(F &&f)
{
    f(&JobState::setups, &JobChange::setups);
    f(&JobState::frames, &JobChange::frames);
    f(&JobState::readings, &JobChange::readings);
    f(&JobState::calibrations, &JobChange::calibrations);
    f(&JobState::charts, &JobChange::charts);
    f(&JobState::probes, &JobChange::probes);
    f(&JobState::targets, &JobChange::targets);
    f(&JobState::deliveries, &JobChange::deliveries);
}

[[nodiscard]] JobChange reversed(const JobChange &change);
/// Two changes made one: `newer` follows `older`. Rows that both touch keep the older `before`.
[[nodiscard]] JobChange merged(JobChange older, const JobChange &newer);
/// Applies a change in memory. Rows stay in the order of their ids.
void apply(JobState &state, const JobChange &change);
/// One more than the largest id of any row.
[[nodiscard]] RowId nextId(const JobState &state);

} // namespace wavechroma
