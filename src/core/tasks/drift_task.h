#pragma once
#include "core/formats/drift_document.h"
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

} // namespace wavechroma
