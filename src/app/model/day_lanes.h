#pragma once
#include "core/proof/proof.h"
#include "core/jobstore/job_rows.h"

#include <optional>

namespace wavechroma::app {

/// What a station's tag says.
enum class AnswerKind { NotAsked, Good, Poor, Spoilt };
struct Answer {
    AnswerKind kind = AnswerKind::NotAsked;
    std::string headline, reason; ///< "Good, ΔE 0.9"; "worst C6 2.5"
    RowId frame = 0;              ///< the chart frame it comes from
};

/// One camera–lens pair under one setup: a station.
struct Lane {
    RowId setup = 0;
    CameraFacts camera; ///< of its first frame
    std::vector<const JobFrame *> frames; ///< in time order; valid until the state changes
    Answer answer;
};

/// The state as the day sheet shows it: setups in order, within each its pairs in order of their first frame.
[[nodiscard]] std::vector<Lane> lanesOf(const JobState &state);
/// Of one chart frame, by the job's chosen model.
[[nodiscard]] Answer answerOf(const JobState &state, RowId frame);
[[nodiscard]] std::optional<Proof> proofOf(const JobState &state, RowId frame, const std::string &model);
/// The calibration a frame is shown by: its own, else its station's answer; none when the station has none.
[[nodiscard]] const Calibration *calibrationFor(const JobState &state, RowId frame);
/// The frame to show first: the newest chart frame that is not set aside, else the newest chart, else none (0).
[[nodiscard]] RowId frameToOpen(const JobState &state);

} // namespace wavechroma::app
