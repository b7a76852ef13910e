#pragma once
#include "app/model/day_lanes.h"
#include "core/balance/read_back.h"
#include "core/proof/exposure_aims.h"
#include "core/tasks/job_tasks.h"

namespace wavechroma::app {

/// Everything the four stops show of one frame. All numbers come from the core's task functions.
struct BenchFacts
{
    std::optional<JobFrame> frame; ///< absent: no frame is on the bench
    ChartDefinition chart;
    std::optional<Reading> reading;
    std::optional<Balance> balance;
    bool balanceIsChosen = false;    ///< by hand, rather than the chart's default neutral
    std::vector<NeutralState> greys; ///< behind that balance
    std::string otherFace;           ///< of a grey cube, in words
    std::vector<LadderRung> ladder;  ///< named lights, and the job's own, on this camera
    ExposureAims ownAims;            ///< of the tolerance sheet in force
    std::vector<AimedNeutral> aims;  ///< levels of the neutrals by the chosen calibration
    Recommendation recommended;      ///< of `calibrations`, where there are any
    std::vector<Calibration> calibrations;
    std::vector<Proof> proofs;   ///< one a calibration
    std::string chosenModel;     ///< of this frame
    bool followsReading = false; ///< the job leaves the model to each reading
    ProofLimits limits;
    std::string scale; ///< in words; empty without a chart
    bool scaleIsGood = true;
    std::string warning; ///< of a frame that is no chart: why its calibration may not hold

    [[nodiscard]] const Calibration *chosen() const
    {
        for (const auto &c : calibrations)
            if (c.model == chosenModel)
                return &c;
        return nullptr;
    }
    [[nodiscard]] const Proof *proof() const
    {
        for (size_t i = 0; i < calibrations.size() && i < proofs.size(); ++i)
            if (calibrations[i].model == chosenModel)
                return &proofs[i];
        return nullptr;
    }
};

/// From what is stored of a frame.
[[nodiscard]] BenchFacts benchFacts(const JobState &state, RowId frame);
/// From a preview pass, while a corner moves: models it did not fit, and unseen errors, stay as they were.
[[nodiscard]] BenchFacts benchFacts(const BenchFacts &before, const StationPass &pass);

} // namespace wavechroma::app
