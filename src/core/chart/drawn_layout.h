#pragma once
#include "core/chart/chart_geometry.h"

#include <optional>

/// A layout that is no grid, drawn patch by patch over a picture of it.
namespace wavechroma {

struct DrawnLayout
{
    ChartDefinition chart; ///< nothing known of its colours
    Corners corners{};     ///< of the rectangle round its patches, on the frame
};

/// The start: a rectangle of known size and its corners on the frame, from the upper left one clockwise as
/// the board is read. It counts as one patch until the first is drawn.
[[nodiscard]] DrawnLayout outlineOn(const Corners &corners, double widthMm, double heightMm);
/// With one more patch between two of its corners that lie across from each other (of a disc, of the square
/// round it), as points on the frame; ids are numbers from 1 on. Nothing where the points are less than half
/// a millimetre apart in either direction, or the corners are no rectangle's.
[[nodiscard]] std::optional<DrawnLayout> withPatch(const DrawnLayout &layout, const PixelPoint &from,
                                                   const PixelPoint &to, bool isDisc);
/// Without a patch of a layout of two or more; the others keep their ids.
[[nodiscard]] std::optional<DrawnLayout> withoutPatch(const DrawnLayout &layout, size_t patch);

} // namespace wavechroma
