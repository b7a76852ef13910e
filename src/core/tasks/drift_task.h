#pragma once
#include "core/formats/drift_document.h"
#include "core/job/job.h"
#include "core/proof/drift.h"
#include "core/values/tolerance_sheet.h"

#include <string>
#include <vector>

namespace wavechroma {

/// Holds later readings of a calibration's chart against it, see driftOf(): as they were shot, or with the
/// settings' difference taken out, with the times of exposure or without, whichever leaves the lesser change
/// of level. `reference`: a file of values; empty: the chart's own.
[[nodiscard]] Result<DriftCheck> driftOfReading(const Calibration &calibration, const Reading &reading,
                                                const ProofLimits &limits, const std::string &reference = {});
/// In the order given. Unusable, naming the reading, where one is of another camera, lens or chart;
/// `isForced` takes other cameras and lenses all the same.
[[nodiscard]] Result<Drift> driftOfReadings(const Calibration &calibration,
                                            const std::vector<Reading> &readings, const ToleranceSheet &sheet,
                                            const std::string &reference = {}, bool isForced = false);

/// Frames of a station that look at its chart again, in the order of their time: charts that speak for it,
/// and check frames. `after`: only those after that frame; 0: all.
[[nodiscard]] std::vector<RowId> driftFrames(const JobState &state, const Station &station, RowId after = 0);

/// A check frame of a job by the calibration that serves it; nothing where no chart was read in it, nothing
/// serves it, or a document cannot be read.
[[nodiscard]] std::optional<DriftCheck> driftOfCheck(const Job &job, RowId frame);

/// When a station wants its chart shot again.
struct DriftDue
{
    std::string on; ///< "2026-11-13": the sheet's days after its newest chart; empty: no chart, or no time
    int framesLeft = 0;    ///< product frames until the sheet's number since then; below 0: too many
    bool isFailed = false; ///< the newest look at the chart fails
};
/// A look at the chart, held against the calibration in force then: that of the chart before it.
struct DriftLook
{
    DriftCheck check;
    std::string against;         ///< when that chart was shot
    double stops = 0, mired = 0; ///< since the station's first chart
};
/// The history of a station's charts.
struct StationDrift
{
    std::string station, firstAt; ///< when its first chart was shot
    double firstMean = 0;         ///< ΔE2000 of that by its own calibration
    bool firstPasses = false;
    std::vector<DriftLook> looks; ///< in the order of their time
    DriftDue due;
    double limit = 0; ///< of the mean
};
/// From what the job has stored. Unusable for a station without a chart of known colours, and for documents
/// that cannot be read.
[[nodiscard]] Result<StationDrift> driftOfStation(const Job &job, const Station &station);

} // namespace wavechroma
