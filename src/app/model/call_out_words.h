#pragma once
#include "app/model/day_lanes.h"

namespace wavechroma::app {

/// The answer for across the room: one sentence, and the reason below it.
struct CallOutWords
{
    std::string headline, reason, facts; ///< facts: time, exposure, setup, camera
    bool good = false;
};
[[nodiscard]] CallOutWords callOutFor(const JobState &state, RowId frame);

/// "D1 is burnt out. Close down 2/3 stop." → {"D1 is burnt out.", "Close down 2/3 stop."}
[[nodiscard]] std::vector<std::string> sentencesOf(const std::string &message);

} // namespace wavechroma::app
