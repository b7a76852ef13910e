#pragma once
#include "core/jobstore/job_rows.h"
#include "core/proof/proof.h"

#include <optional>

namespace wavechroma::app {

/// What a station's tag says.
enum class AnswerKind { NotAsked, Good, Poor, Spoilt };
struct Answer
{
    AnswerKind kind = AnswerKind::NotAsked;
    std::string headline, reason; ///< "Good, ΔE 0.9"; "worst C6 2.5"
    RowId frame = 0;              ///< the chart frame it comes from
};

/// Chart frames shot one after the other at different settings: one of them is the one to use.
struct Bracket
{
    std::vector<RowId> frames; ///< in time order
    RowId chosen = 0;
    std::string reason;
};

/// One camera–lens pair under one setup: a station.
struct Lane
{
    RowId setup = 0;
    CameraFacts camera;                   ///< of its first frame
    std::vector<const JobFrame *> frames; ///< in time order; valid until the state changes
    std::vector<Bracket> brackets;
    Answer answer;
};

/// The state as the day sheet shows it: setups in order, within each its pairs in order of their first frame.
[[nodiscard]] std::vector<Lane> lanesOf(const JobState &state);
/// Of one chart frame, by the model that it answers by.
[[nodiscard]] Answer answerOf(const JobState &state, RowId frame);
[[nodiscard]] std::optional<Proof> proofOf(const JobState &state, RowId frame, const std::string &model);
/// The chart that speaks for a frame of its lane: the last one before it that was not set aside (of a bracket
/// the chosen one), else the first after it.
struct ServingChart
{
    RowId frame = 0; ///< 0: none
    std::string
        warning; ///< why its calibration may not hold for the frame; empty when nothing speaks against it
};
[[nodiscard]] ServingChart chartServing(const JobState &state, const Lane &lane, const JobFrame &frame);
/// The calibration a frame is shown by: its own, else that of its serving chart; none when there is none.
[[nodiscard]] const Calibration *calibrationFor(const JobState &state, RowId frame);
/// The frame to show first: the newest chart frame that is not set aside, else the newest chart, else none
/// (0).
[[nodiscard]] RowId frameToOpen(const JobState &state);

} // namespace wavechroma::app
