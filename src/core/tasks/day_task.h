#pragma once
#include "core/base/result.h"
#include "core/station/stations.h"

#include <filesystem>
#include <vector>

namespace wavechroma {

/// A job as its day sheet shows it.
struct Day
{
    JobState state;
    Stations stations;
    [[nodiscard]] std::string document() const; ///< `wavechroma.day/1`
};
/// The job in a folder. Frames whose calibration cannot be read are served by nothing there; `damaged` says
/// which documents these are, each once.
[[nodiscard]] Result<Day> dayOf(const std::filesystem::path &folder, std::vector<Error> &damaged);

} // namespace wavechroma
