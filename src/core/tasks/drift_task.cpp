#include "core/tasks/drift_task.h"

#include "core/capture/compare_frames.h"
#include "core/capture/picture_side.h"
#include "core/tasks/reference_task.h"
#include "core/tasks/refusals.h"

#include <cmath>

namespace wavechroma {

/// As it was shot (an aperture opened for a lamp turned down is no drift), and with the settings' difference
/// taken out, with the times of exposure and without them.
static std::vector<double> settingsOf(const CameraFacts &now, const CameraFacts &then)
{
    const auto all = settingStops(now, then);
    if (!all)
        return {0};
    std::vector<double> out{0};
    const auto offer = [&out](double stops) {
        if (std::abs(stops) > 1e-9)
            out.push_back(stops);
    };
    offer(*all);
    auto likeThen = now;
    likeThen.exposureSeconds = then.exposureSeconds;
    if (const auto withoutTime = settingStops(likeThen, then); withoutTime && *withoutTime != *all)
        offer(*withoutTime);
    return out;
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
