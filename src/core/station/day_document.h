#pragma once
#include "core/station/stations.h"

namespace wavechroma {

/// The job as the day sheet shows it, as `wavechroma.day/1`.
[[nodiscard]] std::string dayDocument(const JobState &state, const Stations &stations);

} // namespace wavechroma
