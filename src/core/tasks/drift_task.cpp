#include "core/tasks/drift_task.h"

#include "core/base/iso_time.h"
#include "core/capture/compare_frames.h"
#include "core/capture/picture_side.h"
#include "core/tasks/prove_task.h"
#include "core/tasks/reference_task.h"
#include "core/tasks/refusals.h"

#include <algorithm>
#include <cmath>
#include <ctime>

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

std::vector<RowId> driftFrames(const JobState &state, const Station &station, RowId after)
{
    std::vector<RowId> out;
    bool isAfter = after == 0;
    for (const auto id : station.frames) {
        const auto &row = *state.frame(id);
        const bool isLook = row.part == FramePart::Check ||
                            std::count(station.speaking.begin(), station.speaking.end(), id) > 0;
        if (isAfter && isLook && !row.setAside)
            out.push_back(id);
        isAfter = isAfter || id == after;
    }
    return out;
}

std::optional<DriftCheck> driftOfCheck(const Job &job, RowId frame)
{
    const auto *reading = job.rows().readingOf(frame);
    const auto *row = job.calibrationFor(frame);
    if (!reading || !row || reading->reading.fault() || row->calibration.fault() || !reading->reading->found)
        return {};
    const auto check = driftOfReading(*row->calibration, *reading->reading, sheetOf(job.rows()).proof,
                                      row->calibration->asked.reference);
    return check ? std::optional(*check) : std::nullopt;
}

static std::string daysAfter(const std::string &isoTime, double days)
{
    const auto seconds = secondsOf(isoTime);
    if (!seconds)
        return {};
    const auto then = std::time_t(*seconds + days * 86400);
    std::tm parts{};
    gmtime_r(&then, &parts);
    char text[16];
    return {text, std::strftime(text, sizeof text, "%Y-%m-%d", &parts)};
}

static DriftDue dueOf(const JobState &state, const Station &station, const ToleranceSheet &sheet,
                      const std::vector<DriftLook> &looks)
{
    DriftDue out;
    if (station.speaking.empty())
        return out;
    out.on = daysAfter(state.frame(station.speaking.back())->camera.capturedAt, sheet.chartDays);
    int since = 0;
    for (const auto id : station.frames) {
        const auto &row = *state.frame(id);
        since = id == station.speaking.back() ? 0 : since + (row.part == FramePart::Product && !row.setAside);
    }
    out.framesLeft = int(sheet.chartFrames) - since;
    // a chart that speaks is what is in force from then on: only a check frame after it can fail
    out.isFailed = !looks.empty() && !looks.back().check.passes &&
                   looks.back().check.capturedAt != state.frame(station.speaking.back())->camera.capturedAt;
    return out;
}

namespace {

/// A chart of a station with its calibration, in force until the next one.
struct InForce
{
    const JobReading *reading = nullptr;
    const JobCalibration *calibration = nullptr;
    std::string at;
    double stops = 0, mired = 0; ///< since the first
};

/// Nothing for a frame without a chart of known colours, or whose documents cannot be read.
std::optional<InForce> inForce(const JobState &state, RowId frame)
{
    const auto *reading = state.readingOf(frame);
    const auto *row = state.calibrationOf(frame, partsFor(state, frame));
    if (!reading || !row || row->brief.isWhiteAlone() || row->calibration.fault() ||
        reading->reading.fault() || !reading->reading->found)
        return {};
    return InForce{reading, row, state.frame(frame)->camera.capturedAt, 0, 0};
}

} // namespace

Result<StationDrift> driftOfStation(const Job &job, const Station &station)
{
    const auto &state = job.rows();
    const auto sheet = sheetOf(state);
    StationDrift out;
    out.station = station.name;
    out.limit = sheet.proof.mean;
    std::optional<InForce> current;
    for (const auto id : driftFrames(state, station)) {
        const auto *reading = state.readingOf(id);
        if (!reading || reading->reading.fault() || !reading->reading->found)
            continue;
        double stops = 0, mired = 0;
        if (current && current->reading->reading->chart == reading->reading->chart) {
            const auto &calibration = *current->calibration->calibration;
            if (const auto check = driftOfReading(calibration, *reading->reading, sheet.proof,
                                                  calibration.asked.reference)) {
                stops = current->stops + check->levelStops;
                mired = current->mired + (check->light ? check->light->mired : 0);
                out.looks.push_back({*check, current->at, stops, mired});
            }
        }
        if (state.frame(id)->part == FramePart::Check)
            continue;
        if (auto next = inForce(state, id)) {
            next->stops = stops;
            next->mired = mired;
            if (!current) {
                const auto proof = proveReading(*next->calibration->calibration, *reading->reading,
                                                next->calibration->calibration->asked.reference);
                out.firstAt = next->at;
                out.firstMean = proof ? proof->summary.mean : 0;
                out.firstPasses = proof && passes(*proof, sheet.proof);
            }
            current = next;
        }
    }
    if (!current)
        return unusable("{station}: has no chart of known colours that a later one could be held against",
                        {{"station", station.name}});
    out.due = dueOf(state, station, sheet, out.looks);
    return out;
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
