#pragma once
#include "core/chart/chart_definition.h"
#include "core/chart/chart_geometry.h"
#include "core/values/calibration.h"
#include "core/values/drift.h"
#include "core/values/proof.h"
#include "core/values/reading.h"

#include <functional>

namespace wavechroma {

struct DriftOptions
{
    ProofLimits limits;
    /// Stops that the reading's settings let in more than the calibration's: each a way to see it, since a
    /// flash does not care for the time. The one that leaves the least change of level is taken.
    std::vector<double> settingStops = {0};
    /// The side of the upright picture that a way on the chart, in mm, leads to; absent: not told.
    std::function<Side(const ChartPoint &way)> side = {};
};

/// Holds a later reading of its chart against the patches that the calibration was made from: what proves, by
/// prove(), with the settings' difference taken out, and what became of the chart's light, by chartChange().
/// Temperature and tint are those of the white that the calibration's own matrix sees. A cause is worth a
/// word from 0.06 stops, 4 mired, Duv 0.0015, 5 % from the chart's one corner or side to the opposite one, a
/// veil of 0.4 %, ΔE 0.5 of the spectrum, or patches that changed by ΔE 1 each; see docs/methods.md. Unusable
/// as prove() is, for a reading of another chart, and where fewer than three patches are in both.
[[nodiscard]] Result<DriftCheck> driftOf(const Calibration &calibration, const Reading &reading,
                                         const ChartDefinition &chart, const DriftOptions &options = {});

} // namespace wavechroma
