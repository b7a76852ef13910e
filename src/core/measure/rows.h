#pragma once
#include "core/measure/identify.h"
#include "core/raw/overview.h"

namespace wavechroma::measure {

/// Candidates at even steps along a line, in order; a step without a candidate is left open.
struct PatchRow
{
    std::vector<std::optional<Candidate>> steps; ///< the first and the last are there
    int seen = 0;                                ///< steps that have a candidate
};

/// All rows with at least `fewest` candidates and no more than two steps missing in a run. Steps may shrink
/// or grow along the row as perspective makes them.
[[nodiscard]] std::vector<PatchRow> findRows(const std::vector<Candidate> &candidates, int fewest);

/// How well camera colours (chart order) fit a scale of greys under some light: every channel in proportion
/// to the reference's Y, up to a fall of light along the scale and a small veil, and all patches of one
/// colour. 1 is perfect, 0 no better than patches all alike.
[[nodiscard]] double greyFit(const ChartDefinition &chart, const std::vector<Vector3> &patches);

/// The placement of a chart of one row or one column on a row of candidates: both ways round, every shift.
/// Which way up follows from the picture's handedness and each patch's own shape.
[[nodiscard]] std::optional<Placement> identifyRow(const Overview &overview, const PatchRow &row,
                                                   const ChartDefinition &chart);

} // namespace wavechroma::measure
