#pragma once
#include "core/balance/lights.h"
#include "core/balance/read_back.h"
#include "core/capture/scale.h"
#include "core/proof/exposure_aims.h"
#include "core/station/stations.h"
#include "core/tasks/job_task.h"
#include "core/values/comparison.h"

namespace wavechroma {

/// Everything the four stops show of one frame. All numbers come from the core's task functions. Shared
/// between the views rather than copied; a new one is made for each change.
struct BenchFacts
{
    std::optional<JobFrame> frame; ///< absent: no frame is on the bench
    ChartDefinition chart;
    std::optional<Reading> reading;
    words::Phrase fault; ///< why its documents cannot be read, where they are damaged
    std::optional<Balance> balance;
    bool balanceIsChosen = false;          ///< by hand, rather than the chart's default neutral
    std::vector<NeutralState> greys;       ///< behind that balance
    std::optional<OtherFace> otherFace;    ///< of a grey cube
    std::vector<LadderRung> ladder;        ///< named lights, and the job's own, on this camera
    ExposureAims ownAims;                  ///< of the tolerance sheet in force
    std::vector<AimedNeutral> aims;        ///< levels of the neutrals by the chosen calibration
    Recommendation recommended;            ///< of `calibrations`, where there are any
    std::vector<Calibration> calibrations; ///< one a crossing of colour and tone
    std::vector<Proof> proofs;             ///< one a calibration
    Parts parts;                           ///< of this frame
    bool followsReading = false;           ///< the job leaves them to each reading
    std::optional<Parts> common;           ///< that serve all charts of the job best, where it has any
    ProofLimits limits;
    std::optional<ScaleVerdict> scale; ///< absent without a chart
    Serving serving;                   ///< what serves the frame

    [[nodiscard]] const Calibration *of(const Parts &wanted) const
    {
        for (const auto &c : calibrations)
            if (c.parts == wanted)
                return &c;
        return nullptr;
    }
    [[nodiscard]] const Calibration *chosen() const { return of(parts); }
    [[nodiscard]] const Proof *proof() const
    {
        const auto *c = chosen();
        const auto at = size_t(c - calibrations.data());
        return c && at < proofs.size() ? &proofs[at] : nullptr;
    }
    /// Does the frame say what white is, and nothing of colours? Its figures judge nothing then.
    [[nodiscard]] bool isWhiteAlone() const;
};

/// The errors of the calibration in use, with the interval of their mean: on patches left out of its fit
/// where it keeps them; absent without a chart of known colours.
[[nodiscard]] std::optional<SideErrors> errorsOf(const BenchFacts &facts);
/// That calibration (B) against one of other parts (A) on the same reading; absent as above, or without
/// either.
[[nodiscard]] std::optional<ErrorsCompared> errorsAgainst(const BenchFacts &facts, const Parts &other);

/// Returns the facts of a frame from what is stored.
[[nodiscard]] BenchFacts benchFacts(const Job &job, RowId frame);
/// Returns the facts of a preview pass while a corner moves: crossings it did not fit, and unseen errors,
/// stay as they were.
[[nodiscard]] BenchFacts benchFacts(const BenchFacts &before, const StationPass &pass);
/// Returns the facts with another colour lean on all crossings; errors follow, unseen ones stay until they
/// are judged anew.
[[nodiscard]] BenchFacts withLean(const BenchFacts &before, const ColourLean &lean);

} // namespace wavechroma
