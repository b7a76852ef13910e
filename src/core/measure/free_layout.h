#pragma once
#include "core/measure/identify.h"

namespace wavechroma::measure {

/// The placement of a layout that is no grid among candidates, at any turn. The moments of one candidate and
/// one patch give an affine map up to a turn, a second pair the turn (as of two ellipses laid on each other);
/// the pattern then grows patch by patch, as a homography once five are there. Of all placements that cover
/// three fifths of the patches, four at least, the one whose colours fit best (see colourFit()), or that
/// covers most where colours are not known or are fewer than six. A patch larger than an eighth of the
/// picture is no candidate.
[[nodiscard]] std::optional<Placement> identifyFreely(const Overview &overview,
                                                      const std::vector<Candidate> &candidates,
                                                      const ChartDefinition &chart);

} // namespace wavechroma::measure
