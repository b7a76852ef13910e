#pragma once
#include "core/measure/candidates.h"

#include <map>
#include <utility>

namespace wavechroma::measure {

/// A regular grid of candidates seen in perspective. Index (i, j): i along the first direction, j along the
/// second; the second lies clockwise of the first on the picture, as columns and rows of a printed chart do.
struct Lattice
{
    std::map<std::pair<int, int>, Candidate> nodes;
    Homography pictureFromIndex; ///< index plane → overview coordinates
    int iMin = 0, iMax = 0, jMin = 0, jMax = 0;
};

/// All lattices of at least `fewest` nodes. Each seed's moments turn its parallelogram into a square, so
/// neighbours at right angles and at equal distance in that frame give the two directions, whatever the
/// perspective; the grid then grows node by node and is kept in shape by a homography through all of it.
[[nodiscard]] std::vector<Lattice> findLattices(const std::vector<Candidate> &candidates, int fewest);

} // namespace wavechroma::measure
