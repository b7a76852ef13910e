#pragma once
#include "core/tasks/read_task.h"

#include <array>

/// A chart put elsewhere on its frame.
namespace wavechroma {

/// The chart of a reading at other corners; checks follow. A preview keeps the last answer on the focus.
[[nodiscard]] Result<Reading> movedReading(const Reading &reading, const RawFrame &frame,
                                           const Corners &corners, double windowShare,
                                           const ToleranceSheet &sheet, bool preview = false);
/// The chart of a reading drawn from rough corners to the printed ones (see measure/place_by_hand.h); where
/// nothing is near, it stays where it was put.
[[nodiscard]] Result<Reading> snappedReading(const Reading &reading, const RawFrame &frame,
                                             const Corners &corners, double windowShare,
                                             const ToleranceSheet &sheet);
/// Rough corners drawn to the printed ones of a chart; nothing where none are near.
[[nodiscard]] std::optional<Corners> snappedCorners(const RawFrame &frame, const ChartDefinition &chart,
                                                    const Corners &rough);
/// A chart laid on a frame by three clicks, as a new reading placed by hand.
[[nodiscard]] Result<Reading> readingByThree(const RawFrame &frame, const ChartDefinition &chart,
                                             const std::array<PixelPoint, 3> &three,
                                             const ToleranceSheet &sheet);
/// The placement of a reading carried to another frame of the same size, and found again there within half a
/// patch; where it is not, it stays where it was carried. Switched-off patches and the windows' size come
/// along.
[[nodiscard]] Result<Reading> carriedReading(const Reading &from, const RawFrame &frame,
                                             const ToleranceSheet &sheet);

} // namespace wavechroma
