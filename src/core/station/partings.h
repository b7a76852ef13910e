#pragma once
#include "core/station/stations.h"

#include <vector>

namespace wavechroma {

/// Where a setup may have to be parted: a product frame that what stands still in the picture says is under
/// another light than its chart, after one that is not, or the first of its station.
struct Parting
{
    RowId frame = 0; ///< the first under the other light
    Doubt doubt;     ///< "other-light", with what changed
    int frames = 0;  ///< that follow one another in doubt, this one too
};
/// In the stations' order, within each by time. Frames served by hand are as they are meant to be.
[[nodiscard]] std::vector<Parting> partingsOf(const JobState &state, const Stations &stations);

} // namespace wavechroma
