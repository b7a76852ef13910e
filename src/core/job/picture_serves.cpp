#include "core/job/picture_serves.h"

#include "core/base/capture_clock.h"
#include "core/capture/scale.h"
#include "core/job/job.h"
#include "core/measure/read_chart.h"

#include <algorithm>
#include <cmath>

namespace wavechroma {

namespace {

double pixelsPerInchOf(const Reading &reading)
{
    const auto chart = chartOf(reading);
    const auto scale = chart ? scaleOf(reading, *chart) : std::nullopt;
    return scale ? scale->pixelsPerInch() : 0;
}

double edgeSpreadOf(const Reading &reading)
{
    for (const auto &check : reading.checks)
        if (check.id == CheckId::Focus && check.finding != "too-small")
            return check.value;
    return 0;
}

/// Of a camera with a lens, whatever the light: from all charts that it was seen on in the job.
double distortionOf(const JobState &state, const CameraFacts &camera)
{
    std::vector<const Reading *> all;
    for (const auto &reading : state.readings)
        if (const auto *frame = state.frame(reading.frame);
            frame && !frame->setAside && reading.brief.found && samePair(frame->camera, camera))
            all.push_back(&reading.brief);
    return lensDistortion(all);
}

/// Pixels per mm by the last ruler that was laid over a frame of its station; 0: none.
double rulerOf(const JobState &state, const JobFrame &frame)
{
    const JobFrame *last = nullptr;
    for (const auto &other : state.frames)
        if (other.rulerPixelsPerMm > 0 && other.setup == frame.setup &&
            samePair(other.camera, frame.camera) &&
            (!last || other.camera.capturedAt >= last->camera.capturedAt))
            last = &other;
    return last ? last->rulerPixelsPerMm : 0;
}

} // namespace

PictureServes pictureServes(const Job &job, const JobFrame &frame)
{
    const auto &serving = job.serving(frame.id);
    const auto *calibration = job.calibrationFor(frame.id);
    const auto *reading = job.rows().readingOf(serving.chart);
    PictureServes out;
    out.isServed = false;
    if (!serving.isServed() || !calibration)
        return out;
    out.fault = calibration->calibration.fault();
    if (!out.fault && reading) // whose scale and sharpness serve it too
        out.fault = reading->reading.fault();
    return out.fault ? out : pictureServes(job, frame, *calibration->calibration);
}

PictureServes pictureServes(const Job &job, const JobFrame &frame, const Calibration &calibration)
{
    const auto &rows = job.rows();
    const auto &serving = job.serving(frame.id);
    PictureServes out;
    out.calibration = calibration;
    out.isByItself = false;
    out.chart = serving.chart;
    out.brought = serving.calibration;
    out.doubts = serving.doubts;
    out.balance = frame.balance;
    out.level = std::exp2(frame.levelThirds / 3.0);
    if (!calibration.flats.empty())
        for (const auto &flat : flatsOf(rows, frame.setup, frame.camera))
            out.flats.push_back(job.folder() / flat);
    out.time = job.stations().exposureTimeUnder(rows, frame.setup);
    out.doubtOfLevel = job.stations().doubtOfLevel(rows, frame.id);
    if (const auto *reading = rows.readingOf(serving.chart); reading && !reading->reading.fault()) {
        out.pixelsPerInch = pixelsPerInchOf(*reading->reading);
        out.edgeSpread = edgeSpreadOf(*reading->reading);
    }
    if (const double ruler = rulerOf(rows, frame); ruler > 0)
        out.pixelsPerInch = ruler * kMmPerInch;
    out.distortion = distortionOf(rows, frame.camera);
    return out;
}

std::vector<std::string> flatsOf(const JobState &state, RowId setup, const CameraFacts &camera)
{
    std::vector<const JobFrame *> flats;
    for (const auto &frame : state.frames)
        if (frame.part == FramePart::Flat && !frame.setAside && frame.setup == setup &&
            samePair(frame.camera, camera))
            flats.push_back(&frame);
    CaptureClock clock;
    for (const auto *flat : flats)
        clock.add(flat->camera.capturedAt);
    std::stable_sort(flats.begin(), flats.end(), [&](const auto *a, const auto *b) {
        return clock.isBefore(b->camera.capturedAt, a->camera.capturedAt);
    });
    std::vector<std::string> out;
    for (const auto *flat : flats)
        if (flat->camera.fNumber == flats.front()->camera.fNumber)
            out.push_back(flat->path);
    return out;
}

} // namespace wavechroma
