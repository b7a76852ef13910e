#include "core/tasks/place_task.h"

#include "core/measure/place_by_hand.h"
#include "core/measure/read_chart.h"
#include "core/tasks/reference_task.h"

#include <cmath>

namespace wavechroma {

Result<Reading> movedReading(const Reading &reading, const RawFrame &frame, const Corners &corners,
                             double windowShare, const ToleranceSheet &sheet, bool preview)
{
    for (const auto &corner : corners)
        if (!std::isfinite(corner.x + corner.y))
            return unusable("{file}: a corner is not a number", {{"file", reading.image}});
    const auto chart = chartOf(reading);
    if (!chart)
        return chart.error();
    auto moved = placedAgain(reading, frame, *chart, corners, windowShare);
    if (!moved)
        return moved;
    judge(*moved, frame, *chart, sheet, !preview);
    if (preview)
        for (auto &check : moved->checks)
            for (const auto &old : reading.checks)
                if (check.id == CheckId::Focus && old.id == CheckId::Focus)
                    check = old;
    return moved;
}

Result<Reading> snappedReading(const Reading &reading, const RawFrame &frame, const Corners &corners,
                               double windowShare, const ToleranceSheet &sheet)
{
    const auto chart = chartOf(reading);
    const auto place = chart ? snapped(frame, *chart, corners) : std::nullopt;
    if (!place)
        return movedReading(reading, frame, corners, windowShare, sheet);
    Reading bent = reading;
    bent.distortion = place->lens.distortion;
    return movedReading(bent, frame, place->corners, windowShare, sheet);
}

std::optional<Corners> snappedCorners(const RawFrame &frame, const ChartDefinition &chart,
                                      const Corners &rough)
{
    const auto place = snapped(frame, chart, rough);
    return place ? std::optional(place->corners) : std::nullopt;
}

Result<Reading> readingByThree(const RawFrame &frame, const ChartDefinition &chart,
                               const std::array<PixelPoint, 3> &three, const ToleranceSheet &sheet)
{
    const auto place = placedByThree(frame, chart, three);
    if (!place)
        return unusable("{file}: the three corners lie on a line or run the wrong way. Click first patch, "
                        "last of the top row, last of all",
                        {{"file", frame.path}});
    ReadRequest request;
    request.definition = chart;
    request.corners = place->corners;
    request.sheet = sheet;
    auto reading = readFrame(frame, request);
    if (!reading || place->lens.distortion == 0)
        return reading;
    reading->distortion = place->lens.distortion;
    return movedReading(*reading, frame, place->corners, request.windowShare, sheet);
}

Result<Reading> carriedReading(const Reading &from, const RawFrame &frame, const ToleranceSheet &sheet)
{
    if (!from.found)
        return unusable("{file}: has no placement to copy", {{"file", from.image}});
    if (from.width != frame.width || from.height != frame.height)
        return unusable("{file}: has another size, so the placement cannot be copied",
                        {{"file", frame.path}});
    Reading carried = from;
    carried.image = frame.path;
    carried.camera = frame.camera;
    carried.fileColor = frame.fileColor;
    carried.orientation = frame.orientation;
    return snappedReading(carried, frame, from.corners, from.windowShare, sheet);
}

} // namespace wavechroma
