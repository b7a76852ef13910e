#pragma once
#include "core/chart/chart_geometry.h"
#include "core/raw/raw_frame.h"

#include <optional>

namespace wavechroma::measure {

/// The corners of a grey cube that shows two faces, each with a white, a grey and a dark field one below the
/// other; `chart` is its definition, of three rows and a column for each face. A face is a white and a grey
/// parallelogram of one colour, a step of their lengths apart, with something darker beyond; two faces share
/// an edge. The right one is that on the right hand of who looks along it from the white to the dark field.
/// The corners are those of the one perspective that fits the middles of all six fields best: windows of half
/// a field lie within both faces. Nothing where there is no such pair, or two that fit.
[[nodiscard]] std::optional<Corners> findCube(const RawFrame &frame, const ChartDefinition &chart);

} // namespace wavechroma::measure
