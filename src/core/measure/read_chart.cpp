#include "core/measure/read_chart.h"

#include "core/measure/find_cube.h"
#include "core/measure/flat_field.h"
#include "core/measure/plain_area.h"
#include "core/measure/sample.h"
#include "core/measure/upright.h"

#include <algorithm>

namespace wavechroma {

static Result<Homography> usablePlacement(const RawFrame &frame, const ChartDefinition &chart,
                                          const Corners &corners, const LensShape &lens)
{
    const auto homography = homographyFrom(chart, corners, lens);
    if (!homography)
        return unusable("{file}: the four corners must run top-left, top-right, bottom-right, bottom-left of "
                        "the upright chart and form a convex quadrilateral",
                        {{"file", frame.path}});
    for (int row = 0; row < chart.rows; ++row)
        for (int column = 0; column < chart.columns; ++column) {
            const auto p = homography->at(patchCentre(chart, row, column));
            if (!(p.x >= 0 && p.y >= 0 && p.x < frame.width && p.y < frame.height))
                return unusable("{file}: patch {patch} would lie outside the frame",
                                {{"file", frame.path},
                                 {"patch", chart.patches[size_t(row * chart.columns + column)].id}});
        }
    return *homography;
}

static Reading unreadOf(const RawFrame &frame, double windowShare)
{
    Reading reading;
    reading.image = frame.path;
    reading.camera = frame.camera;
    reading.fileColor = frame.fileColor;
    reading.width = frame.width;
    reading.height = frame.height;
    reading.orientation = frame.orientation;
    if (frame.flat)
        reading.flats = {frame.flat->source};
    reading.windowShare = std::clamp(windowShare, 0.1, 0.9);
    return reading;
}

static constexpr const char *kCube = "grey-cube"; // of the catalogue

static Result<Reading> searched(const RawFrame &frame, std::span<const ChartDefinition> charts,
                                Reading reading, const FindOptions &options, const Progress &progress)
{
    reading.chart = charts.front().id;
    const auto find = findAnyChart(frame, charts, options, progress);
    if (progress.stopped())
        return unusable("{file}: stopped", {{"file", frame.path}});
    if (!find.found)
        return reading;
    const auto &chart = charts[find.chart];
    const auto homography = usablePlacement(frame, chart, find.corners, find.lens);
    if (!homography)
        return reading; // a chart that runs out of the frame cannot be read
    reading.chart = chart.id;
    reading.found = true;
    reading.corners = find.corners;
    reading.distortion = find.lens.distortion;
    reading.confidence = find.confidence;
    progress.at(0.8, "reading the patches");
    reading.patches = samplePatches(frame, chart, *homography, {reading.windowShare});
    return reading;
}

/// Greys without a pattern: an even field is the whole frame, a card the largest plain grey area, a cube two
/// faces that meet.
static Result<Reading> readPlain(const RawFrame &frame, const ChartDefinition &chart, Reading reading)
{
    std::optional<Corners> corners;
    const auto w = double(frame.width), h = double(frame.height);
    if (chart.id == kCube)
        corners = measure::findCube(frame, chart);
    else if (chart.id != "even-field")
        corners = measure::findPlainArea(frame);
    else if (looksFlat(frame))
        corners = fromTopLeft({PixelPoint{0, 0}, {w, 0}, {w, h}, {0, h}}, frame.orientation);
    const auto homography = corners ? homographyFrom(chart, *corners) : std::nullopt;
    if (!homography)
        return reading;
    reading.found = true;
    reading.corners = *corners;
    reading.confidence = 0.5;
    reading.patches = samplePatches(frame, chart, *homography, {reading.windowShare});
    return reading;
}

Result<Reading> readChart(const RawFrame &frame, const ChartDefinition &chart, const ReadOptions &options,
                          const Progress &progress)
{
    Reading reading = unreadOf(frame, options.windowShare);
    reading.chart = chart.id;
    if (options.corners)
        return placedAgain(reading, frame, chart, *options.corners, reading.windowShare);
    if (chart.patches.size() == 1 || chart.id == kCube)
        return readPlain(frame, chart, reading);
    return searched(frame, {&chart, 1}, reading, {options.chartWasNamed}, progress);
}

Result<Reading> readAnyChart(const RawFrame &frame, std::span<const ChartDefinition> charts,
                             double windowShare, const Progress &progress)
{
    return searched(frame, charts, unreadOf(frame, windowShare), {}, progress);
}

Result<Reading> placedAgain(const Reading &reading, const RawFrame &frame, const ChartDefinition &chart,
                            const Corners &corners, double windowShare)
{
    const auto homography = usablePlacement(frame, chart, corners, reading.lens());
    if (!homography)
        return homography.error();
    Reading out = reading;
    out.found = true;
    out.placedBy = PlacedBy::Hand;
    out.corners = corners;
    out.confidence = 1;
    out.windowShare = std::clamp(windowShare, 0.1, 0.9);
    out.patches = samplePatches(frame, chart, *homography, {out.windowShare});
    return out;
}

Result<ChartDefinition> chartOf(const Reading &reading)
{
    return reading.definition ? Result<ChartDefinition>(*reading.definition)
                              : chartFromCatalogue(reading.chart);
}

} // namespace wavechroma
