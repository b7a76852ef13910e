#pragma once
#include "core/balance/balance.h"
#include "core/base/lazy.h"
#include "core/capture/lamp_kind.h"
#include "core/chart/chart_definition.h"
#include "core/fit/calibration.h"
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

struct JobState
{
    JobTitle title;
    std::vector<JobSetup> setups;
    std::vector<JobFrame> frames;
    std::vector<JobReading> readings;
    std::vector<JobCalibration> calibrations;
    std::vector<JobChart> charts;
    std::vector<JobProbe> probes;
    std::vector<JobTarget> targets;
    std::vector<JobDelivery> deliveries;

    [[nodiscard]] const JobFrame *frame(RowId id) const;
    [[nodiscard]] const JobReading *readingOf(RowId frame) const;
    [[nodiscard]] const JobCalibration *calibrationOf(RowId frame, const Parts &parts) const;
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
[[nodiscard]] JobChange reversed(const JobChange &change);
/// Two changes made one: `newer` follows `older`. Rows that both touch keep the older `before`.
[[nodiscard]] JobChange merged(JobChange older, const JobChange &newer);
/// In memory. Rows keep their order of id.
void apply(JobState &state, const JobChange &change);
/// One more than the largest id of any row.
[[nodiscard]] RowId nextId(const JobState &state);

} // namespace wavechroma
