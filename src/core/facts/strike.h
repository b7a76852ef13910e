#pragma once
#include "core/base/progress.h"
#include "core/job/job.h"
#include "core/values/strike.h"

namespace wavechroma {

/// What is there of a setup and what is missing, before its lights go off. A flat is wanted where the job has
/// an intended resolution or a sheet whose limit of evenness is the strict one, and for charts whose light
/// was uneven. From what is stored: what the frames' files have to say is awaited, see withFiles(). A setup
/// without frames has a card that lacks a chart.
[[nodiscard]] StrikeCard strikeCard(const Job &job, RowId setup);
/// The card with its files looked at: whether each is there, whole and readable, and whether the colours with
/// a target are within their limits, as probeImage() reads them. Takes a moment for each frame with probes.
/// Still awaited when stopped.
[[nodiscard]] StrikeCard withFiles(StrikeCard card, const Job &job, const Progress &progress = {});
/// The setup of the newest frame; 0 in a job without frames.
[[nodiscard]] RowId newestSetup(const Job &job);

} // namespace wavechroma
