#pragma once
#include "core/chart/chart_definition.h"
#include "core/figures/figure.h"
#include "core/values/proof.h"

namespace wavechroma {

/// The chart laid out flat as ring chips: the ring is what a patch should be, the core what it came out as.
/// `width`: of the figure, in points; so are those below.
[[nodiscard]] Figure flatChart(const Proof &proof, const ChartDefinition &chart, double width);
/// Errors as lengths, patch by patch in the chart's order, with the limit of one patch as a line.
[[nodiscard]] Figure errorLengths(const Proof &proof, double limit, double width, double height);
/// a* to the right and b* up, square, with a tail from each reference to its result.
[[nodiscard]] Figure chromaPlane(const Proof &proof, double side);
/// L*, a* and b* of the neutrals less their references, along the tone scale from black to white.
[[nodiscard]] Figure greyCast(const Proof &proof, const ChartDefinition &chart, double width, double height);

/// A colour beside what it should be.
struct RingChip
{
    std::string name, note;
    Lab color;
    std::optional<Lab> target = {};
    bool isOut = false; ///< beyond its limit: the note is bold
};
/// Chips in rows of four, each with its name and a note beside it.
[[nodiscard]] Figure ringChips(const std::vector<RingChip> &chips, double width);

} // namespace wavechroma
