#include "core/tasks/drift_task.h"

#include "core/capture/compare_frames.h"
#include "core/capture/picture_side.h"
#include "core/tasks/reference_task.h"
#include "core/tasks/refusals.h"

namespace wavechroma {

/// With the times of exposure and without them.
static std::vector<double> settingsOf(const CameraFacts &now, const CameraFacts &then)
{
    const auto all = settingStops(now, then);
    if (!all)
        return {0};
    auto likeThen = now;
    likeThen.exposureSeconds = then.exposureSeconds;
    const auto withoutTime = settingStops(likeThen, then);
    if (!withoutTime || *withoutTime == *all)
        return {*all};
    return {*all, *withoutTime};
}

Result<DriftCheck> driftOfReading(const Calibration &calibration, const Reading &reading,
                                  const ProofLimits &limits, const std::string &reference)
{
    const auto chart = referencesOf(reading, reference);
    if (!chart)
        return chart.error();
    DriftOptions options;
    options.limits = limits;
    options.settingStops = settingsOf(reading.camera, calibration.camera);
    if (const auto homography = homographyFrom(*chart, reading.corners, reading.lens()))
        options.side = [=, &chart](const ChartPoint &way) {
            return sideOf(*homography, *chart, reading.orientation, way);
        };
    return driftOf(calibration, reading, *chart, options);
}

Result<Drift> driftOfReadings(const Calibration &calibration, const std::vector<Reading> &readings,
                              const ToleranceSheet &sheet, const std::string &reference, bool isForced)
{
    Drift out;
    out.calibration = calibration.name;
    for (const auto &reading : readings) {
        if (const auto doubt = refusedStation(calibration, reading.camera, reading.image); doubt && !isForced)
            return unusable("{reason}", {{"reason", *doubt}});
        auto check = driftOfReading(calibration, reading, sheet.proof, reference);
        if (!check)
            return check.error();
        out.checks.push_back(std::move(*check));
    }
    return out;
}

} // namespace wavechroma
