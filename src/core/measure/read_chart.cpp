#include "core/measure/read_chart.h"

#include "core/measure/sample.h"

#include <algorithm>

namespace wavechroma {

static Result<Homography> usablePlacement(const RawFrame &frame, const ChartDefinition &chart, const Corners &corners)
{
    const auto homography = homographyFrom(chart, corners);
    if (!homography)
        return unusable(frame.path + ": the four corners must run top-left, top-right, bottom-right, bottom-left of the "
                                     "upright chart and form a convex quadrilateral");
    for (int row = 0; row < chart.rows; ++row)
        for (int column = 0; column < chart.columns; ++column) {
            const auto p = homography->at(patchCentre(chart, row, column));
            if (!(p.x >= 0 && p.y >= 0 && p.x < frame.width && p.y < frame.height))
                return unusable(frame.path + ": patch " + patchId(row, column) + " would lie outside the frame");
        }
    return *homography;
}

Result<Reading> readChart(const RawFrame &frame, const ChartDefinition &chart, const ReadOptions &options,
                          const Progress &progress)
{
    Reading reading;
    reading.image = frame.path;
    reading.camera = frame.camera;
    reading.fileColor = frame.fileColor;
    reading.width = frame.width;
    reading.height = frame.height;
    reading.orientation = frame.orientation;
    reading.chart = chart.id;
    reading.windowShare = std::clamp(options.windowShare, 0.1, 0.9);
    if (options.corners) {
        const auto placed = placedAgain(reading, frame, chart, *options.corners, reading.windowShare);
        return placed;
    }
    const auto find = findChart(frame, chart, {options.chartWasNamed}, progress);
    if (progress.stopped())
        return unusable(frame.path + ": stopped");
    if (!find.found)
        return reading;
    const auto homography = usablePlacement(frame, chart, find.corners);
    if (!homography)
        return reading; // a chart that runs out of the frame cannot be read
    reading.found = true;
    reading.corners = find.corners;
    reading.confidence = find.confidence;
    progress.at(0.8, "reading the patches");
    reading.patches = samplePatches(frame, chart, *homography, {reading.windowShare});
    return reading;
}

Result<Reading> placedAgain(const Reading &reading, const RawFrame &frame, const ChartDefinition &chart,
                            const Corners &corners, double windowShare)
{
    const auto homography = usablePlacement(frame, chart, corners);
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

} // namespace wavechroma
