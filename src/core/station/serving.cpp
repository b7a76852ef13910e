// The one rule: what serves a frame.
#include "core/base/iso_time.h"
#include "core/capture/compare_frames.h"
#include "core/capture/set_look.h"
#include "core/station/stations.h"

#include <algorithm>
#include <cmath>
#include <iterator>

namespace wavechroma {

namespace {

constexpr const char *kEvenField = "even-field"; // of the catalogue

bool holds(const std::vector<RowId> &all, RowId one)
{
    return std::find(all.begin(), all.end(), one) != all.end();
}

/// Those of a frame's ISO, or of the nearest; all where it is not known.
std::vector<RowId> nearestIso(const JobState &state, const std::vector<RowId> &all, double iso)
{
    const auto stepsTo = [&](RowId id) {
        const double other = state.frame(id)->camera.iso;
        return iso > 0 && other > 0 ? std::abs(std::log2(other / iso)) : 0;
    };
    double least = INFINITY;
    for (const auto id : all)
        least = std::min(least, stepsTo(id));
    constexpr double kSame = 0.01;
    std::vector<RowId> out;
    std::copy_if(all.begin(), all.end(), std::back_inserter(out),
                 [&](RowId id) { return stepsTo(id) <= least + kSame; });
    return out;
}

/// Whole days from the chart's date to the frame's; 0 where one of them is not known, and in one night.
int daysBetween(const std::string &chart, const std::string &frame)
{
    constexpr size_t kDate = 10;
    const auto noon = [](const std::string &time) { return secondsOf(time.substr(0, kDate) + "T12:00:00"); };
    const auto a = noon(chart), b = noon(frame);
    const auto from = secondsOf(chart), to = secondsOf(frame);
    constexpr double kDay = 86400, kNight = 6 * 3600;
    const bool isOneNight = from && to && std::abs(*to - *from) < kNight;
    return a && b && !isOneNight ? int(std::lround(std::abs(*b - *a) / kDay)) : 0;
}

} // namespace

/// What may speak for frames of the station: its charts; where there are none, its greys; else the charts
/// that their checks refused.
std::vector<RowId> Stations::candidatesOf(const Station &station)
{
    if (station.speaking.empty())
        return station.refused;
    std::vector<RowId> charts;
    std::copy_if(station.speaking.begin(), station.speaking.end(), std::back_inserter(charts),
                 [&](RowId id) { return !holds(station.greys, id); });
    return charts.empty() ? station.speaking : charts;
}

/// What the light did between a chart and a frame, by the charts that lie between them and the next one.
std::optional<Doubt> Stations::lightMoved(const JobState &state, const Station &station, RowId chart,
                                          const JobFrame &frame) const
{
    const auto &all = station.speaking;
    const auto at = std::find(all.begin(), all.end(), chart) - all.begin();
    ptrdiff_t until = -1; // the last one that was shot before the frame
    for (size_t i = 0; i < all.size(); ++i)
        if (!station.clock.isBefore(frame.camera.capturedAt, state.frame(all[i])->camera.capturedAt))
            until = ptrdiff_t(i);
    const auto from = at <= until ? at : until + 1, to = at <= until ? until : at - 1;
    for (auto i = from; i <= to; ++i)
        if (size_t(i) < station.changes.size() && station.changes[size_t(i)])
            return Doubt{"light-moved", 0, 0, state.frame(all[size_t(i) + 1])->camera.capturedAt,
                         station.changes[size_t(i)]};
    return std::nullopt;
}

/// What the set itself says of the light.
std::optional<SetDrift> Stations::driftBySet(const JobState &state, RowId id, const JobFrame &frame) const
{
    const auto &chart = *state.frame(id);
    const bool isOfTheSet =
        frame.part != FramePart::Flat && frame.part != FramePart::Grey; // no board before it
    const auto *reading = readingOf(state, id);
    const bool showsTheSet = reading && reading->brief.chart != kEvenField; // a disc hides it
    if (!isOfTheSet || !showsTheSet || chart.look.empty() || frame.look.empty() ||
        chart.width != frame.width || chart.height != frame.height)
        return std::nullopt;
    auto own = frame.camera, charts = chart.camera;
    const auto time = exposureTimeUnder(state, frame.setup);
    if (time == ExposureTime::DoesNotCount)
        own.exposureSeconds = charts.exposureSeconds;
    // apertures let through a little more or less than they say, and a camera brightens its pictures as it
    // likes
    const bool isKnown = !frame.camera.isRendered && own.fNumber == charts.fNumber &&
                         (time != ExposureTime::Unknown || own.exposureSeconds == charts.exposureSeconds);
    const auto change =
        lightChange(chart.look, frame.look, isKnown ? settingStops(own, charts) : std::nullopt);
    return change ? std::optional(SetDrift{*change, miredOf(*change)}) : std::nullopt;
}

std::optional<Doubt> Stations::otherLight(const JobState &state, RowId chart,
                                          const std::optional<SetDrift> &drift)
{
    if (!drift || !drift->change.visible.any())
        return std::nullopt;
    const double mired = drift->mired;
    const auto *row = state.calibrationOf(chart, partsFor(state, chart));
    const bool isColour = drift->change.visible.warmth != 0 && row && row->brief.cctKelvin > 0;
    const double was = isColour ? 1e6 / row->brief.cctKelvin : 0;
    return Doubt{
        "other-light", mired, isColour && was + mired > 0 ? 1e6 / (was + mired) : 0, {}, drift->change};
}

std::optional<Doubt> Stations::ageOf(const std::string &chart, const std::string &frame) const
{
    const int days = daysBetween(chart, frame);
    return days > 0
               ? std::optional(Doubt{days > m_sheet.chartDays ? "old" : "other-day", 0, double(days), chart})
               : std::nullopt;
}

/// What is to be said of a frame by the chart or grey that speaks for it.
void Stations::speak(const JobState &state, const Station &station, const JobFrame &frame,
                     Serving &serving) const
{
    const auto by = serving.chart;
    auto &out = serving.doubts;
    const auto &chart = *state.frame(by);
    serving.drift = driftBySet(state, by, frame);
    if (holds(station.greys, by))
        out.push_back({"no-chart"});
    if (station.clock.isBefore(frame.camera.capturedAt, chart.camera.capturedAt))
        out.push_back({"chart-after", 0, 0, chart.camera.capturedAt});
    if (chart.camera.iso != frame.camera.iso)
        out.push_back({"other-iso", frame.camera.iso, chart.camera.iso});
    if (chart.camera.fNumber != frame.camera.fNumber)
        out.push_back({"other-aperture", frame.camera.fNumber, chart.camera.fNumber});
    if (const auto moved = lightMoved(state, station, by, frame))
        out.push_back(*moved);
    else if (const auto other = otherLight(state, by, serving.drift)) // no chart between says it already
        out.push_back(*other);
    if (frame.camera.isRendered &&
        (frame.camera.balancesItself.value_or(false) || chart.camera.balancesItself.value_or(false)))
        out.push_back({"auto-balance"});
    if (const auto age = ageOf(chart.camera.capturedAt, frame.camera.capturedAt))
        out.push_back(*age);
    if (answerOf(state, by).state != Answer::State::Good)
        out.push_back({"poor-chart"});
}

Serving Stations::servingOf(const JobState &state, RowId id) const
{
    Serving out;
    const auto *station = of(id);
    const auto *frame = state.frame(id);
    if (!station || !frame)
        return out;
    if (isSource(*frame) && !frame->setAside && state.readingOf(id)) {
        out.chart = id;
        out.from = holds(station->greys, id) ? Serving::From::Neutral : Serving::From::Station;
        return out;
    }
    const auto *own = frame->calibration ? state.calibration(frame->calibration) : nullptr;
    return own ? byCalibration(state, *station, *frame, *own) : byChart(state, *station, *frame);
}

Serving Stations::byCalibration(const JobState &state, const Station &station, const JobFrame &frame,
                                const JobCalibration &calibration) const
{
    const auto &brief = calibration.brief;
    Serving out = byChart(state, station, frame); // its chart still says scale and sharpness
    out.doubts.clear();
    out.calibration = calibration.id;
    out.from = !brief.matchedTo.empty() ? Serving::From::Match
               : brief.lights > 1       ? Serving::From::Joined
               : brief.isWhiteAlone()   ? Serving::From::Neutral
                                        : Serving::From::Hand;
    if (holds(station.speaking, brief.chart) || holds(station.refused, brief.chart)) {
        out.chart = brief.chart;
        speak(state, station, frame, out);
        return out;
    }
    if (brief.isWhiteAlone())
        out.doubts.push_back({"no-chart"});
    if (brief.iso > 0 && brief.iso != frame.camera.iso)
        out.doubts.push_back({"other-iso", frame.camera.iso, brief.iso});
    if (const auto age = ageOf(brief.shotAt, frame.camera.capturedAt))
        out.doubts.push_back(*age);
    return out;
}

Serving Stations::byChart(const JobState &state, const Station &station, const JobFrame &frame) const
{
    Serving out;
    const bool isByHand = holds(station.speaking, frame.servedBy) || holds(station.refused, frame.servedBy);
    const auto all =
        isByHand ? std::vector{frame.servedBy} : nearestIso(state, candidatesOf(station), frame.camera.iso);
    if (all.empty()) {
        const bool elsewhere = std::any_of(state.frames.begin(), state.frames.end(), [&](const JobFrame &f) {
            return f.setup == frame.setup && f.part == FramePart::Chart && !f.setAside;
        });
        out.without = elsewhere ? Serving::Without::ChartOfThisPair : Serving::Without::Chart;
        return out;
    }
    out.chart = all.front(); // the first after the frame, unless one lies before it
    for (const auto one : all)
        if (!station.clock.isBefore(frame.camera.capturedAt, state.frame(one)->camera.capturedAt))
            out.chart = one;
    out.from = isByHand                          ? Serving::From::Hand
               : holds(station.greys, out.chart) ? Serving::From::Neutral
                                                 : Serving::From::Station;
    speak(state, station, frame, out);
    return out;
}

} // namespace wavechroma
