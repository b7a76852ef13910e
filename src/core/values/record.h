#pragma once
#include "core/base/mean_interval.h"
#include "core/values/calibration.h"
#include "core/values/delivery.h"
#include "core/values/drift.h"
#include "core/values/job_rows.h"
#include "core/values/probe.h"
#include "core/values/proof.h"
#include "core/values/station.h"
#include "core/values/station_agreement.h"
#include "core/values/tolerance_sheet.h"

#include <optional>
#include <string>
#include <vector>

/// Every figure of a report with what it comes from: made by tasks/record_task.h.
namespace wavechroma {

struct RecordFrame
{
    std::string path, sha256;
    FramePart part = FramePart::Product;
    bool setAside = false;
};

struct RecordFigures
{
    double unseenMean = 0; ///< ΔE2000 of patches that were left out of the fit in turn
    Interval interval;     ///< 95 %, of that mean
    double fitMean = 0;
    double worst = 0; ///< of the reading's patches
    std::string worstPatch;
    double neutralMax = 0; ///< ΔE2000 of the neutral that is furthest off
};

struct RecordRequirement
{
    std::string id; ///< "mean", "patch", or that of a capture check
    double limit = 0, value = 0;
    std::string unit;
    bool passes = true;
    std::string said = {}; ///< the check's sentence, where it does not pass or warns
};

struct RecordStation
{
    std::string name;
    JobSetup setup;
    CameraFacts camera;
    std::vector<RecordFrame> frames;
    std::string why = {}; ///< why nothing is computed: "no-chart", "white-alone"; empty: it is
    // of the chart frame that speaks for it, where there is one
    std::optional<Reading> reading = {};
    std::optional<Calibration> calibration = {};
    std::optional<Proof> proof = {};
    ChartDefinition chart = {};
    std::optional<RecordFigures> figures = {};
    std::vector<RecordRequirement> requirements = {};
    std::vector<DriftCheck> drift =
        {}; ///< charts and check frames after that one, in the order of their time
    [[nodiscard]] bool passes() const;
};

struct RecordObject
{
    std::string image; ///< kept path
    Probe probe;
    std::vector<Doubt> doubts = {}; ///< of what serves the frame
};

struct JobRecord
{
    std::string title, madeAt, madeWith;
    ToleranceSheet sheet;
    std::vector<RecordStation> stations;
    std::vector<RecordObject> objects;
    std::optional<StationAgreement> agreement;
    std::vector<DeliveryReceipt> deliveries; ///< paths as they lie on the disk
    std::vector<std::string> unread = {};    ///< files that are not there any more, or cannot be read

    /// Does every station with a chart pass, and is every thing with a target within its limit? Nothing that
    /// was held to a limit is no pass.
    [[nodiscard]] bool passes() const;
};

/// A figure of a record that does not come out the same.
struct RecordDifference
{
    std::string where, was, now; ///< "stations[0].figures.unseen_mean"; values as text, "–" for none
};

} // namespace wavechroma
