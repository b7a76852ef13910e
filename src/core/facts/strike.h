#pragma once
#include "core/job/job.h"
#include "core/values/strike.h"

namespace wavechroma {

/// What is there of a setup and what is missing, before its lights go off. A flat is wanted where the job has
/// an intended resolution or a sheet whose limit of evenness is the strict one, and for charts whose light
/// was uneven. Looks for the frames' files; opens none. A setup without frames has a card that lacks a chart.
[[nodiscard]] StrikeCard strikeCard(const Job &job, RowId setup);
/// The setup of the newest frame; 0 in a job without frames.
[[nodiscard]] RowId newestSetup(const Job &job);

} // namespace wavechroma
