#include "core/tasks/delivery_profiles.h"

#include "core/measure/read_chart.h"
#include "core/tasks/balance_task.h"
#include "core/tasks/export_task.h"
#include "core/tasks/fit_task.h"
#include "core/tasks/job_task.h"
#include "core/tasks/read_task.h"

#include <algorithm>

namespace wavechroma {

namespace {

const JobCalibration *rowOf(const JobState &state, RowId chart)
{
    return state.calibrationOf(chart, partsFor(state, chart));
}

/// With what tells it from the calibrations of the job's other bodies and other ISO settings.
std::string nameWithin(const JobState &state, const JobFrame &chart, const Calibration &calibration)
{
    const auto isOtherBody = [&](const JobFrame &other) {
        return other.camera.model == chart.camera.model && !other.camera.serial.empty() &&
               other.camera.serial != chart.camera.serial;
    };
    const auto isOtherIso = [&](const JobFrame &other) {
        return other.part == FramePart::Chart && other.setup == chart.setup &&
               samePair(other.camera, chart.camera) && other.camera.iso != chart.camera.iso;
    };
    return nameForFiles(calibration, std::any_of(state.frames.begin(), state.frames.end(), isOtherBody),
                        std::any_of(state.frames.begin(), state.frames.end(), isOtherIso));
}

Result<Calibration> ofChart(const JobState &state, RowId chart, const InPlaceOf &inPlace)
{
    const auto *frame = state.frame(chart);
    const auto *row = frame ? rowOf(state, chart) : nullptr;
    if (!row)
        return unusable("{file}: has no calibration any more", {{"file", frame ? frame->path : "a chart"}});
    if (const auto &fault = row->calibration.fault())
        return *fault;
    auto out = inPlace(*row->calibration, chart);
    if (out)
        out->name = nameWithin(state, *frame, *out);
    return out;
}

Result<Vector3> neutralOf(const JobState &state, RowId chart)
{
    const auto *row = state.readingOf(chart);
    if (!row || row->reading.fault())
        return unusable("{file}: has no reading any more", {{"file", state.frame(chart)->path}});
    const auto definition = chartOf(*row->reading);
    if (!definition)
        return definition.error();
    const auto neutral = neutralIn(*row->reading, *definition);
    return neutral ? Result<Vector3>(*neutral)
                   : unusable("{file}: its chart shows no neutral, so its light cannot be told from others",
                              {{"file", state.frame(chart)->path}});
}

} // namespace

RowId profileChartOf(const PictureSource &source, const JobFrame &frame, const PictureServes &serves)
{
    const bool isOwn = frame.part == FramePart::Chart && rowOf(source.state(), frame.id);
    return isOwn ? frame.id : serves.chart;
}

static std::vector<ProfileSource> joinedByPair(const JobState &state, const std::vector<RowId> &charts)
{
    std::vector<ProfileSource> out;
    for (const auto chart : charts) {
        const auto &row = *state.frame(chart);
        const auto source = std::find_if(out.begin(), out.end(), [&](const ProfileSource &other) {
            return samePair(state.frame(other.charts.front())->camera, row.camera);
        });
        if (source == out.end()) {
            out.push_back({{chart}, {}, 0});
            continue;
        }
        const auto sameLight = std::find_if(source->charts.begin(), source->charts.end(), [&](RowId other) {
            return state.frame(other)->setup == row.setup;
        });
        if (sameLight == source->charts.end())
            source->charts.push_back(chart);
        else
            *sameLight = chart;
    }
    return out;
}

std::vector<ProfileSource> profileSources(const JobState &state, const std::vector<RowId> &charts,
                                          ProfileLights lights)
{
    if (lights == ProfileLights::Joined)
        return joinedByPair(state, charts);
    std::vector<ProfileSource> out;
    for (const auto chart : charts)
        out.push_back({{chart}, {}, 0});
    return out;
}

/// Charts of the job, as many as there are lights.
static Result<Calibration> ofCharts(const JobState &state, const std::vector<RowId> &charts,
                                    const InPlaceOf &inPlace)
{
    std::vector<Calibration> lights;
    std::vector<Vector3> neutrals;
    for (const auto chart : charts) {
        auto one = ofChart(state, chart, inPlace);
        if (!one || charts.size() == 1)
            return one;
        const auto neutral = neutralOf(state, chart);
        if (!neutral)
            return neutral.error();
        lights.push_back(std::move(*one));
        neutrals.push_back(*neutral);
    }
    return joinLights(lights, neutrals);
}

Result<Calibration> calibrationOf(const PictureSource &source, const ProfileSource &profile,
                                  const InPlaceOf &inPlace)
{
    if (!profile.document.empty()) {
        const auto own = loadCalibration(source.folder() / profile.document);
        return own ? inPlace(*own, 0) : own;
    }
    if (!profile.calibration)
        return ofCharts(source.state(), profile.charts, inPlace);
    const auto *row = source.state().calibration(profile.calibration);
    if (!row)
        return unusable("a calibration that was brought along is gone");
    return row->calibration.fault() ? Result<Calibration>(*row->calibration.fault())
                                    : inPlace(*row->calibration, 0);
}

} // namespace wavechroma
