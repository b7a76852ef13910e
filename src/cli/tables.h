#pragma once
#include "core/station/stations.h"
#include "core/tasks/deliver_task.h"
#include "core/values/comparison.h"
#include "core/values/drift.h"
#include "core/values/probe.h"
#include "core/values/proof.h"
#include "core/values/station_agreement.h"
#include "core/values/tolerance_sheet.h"

#include <string>
#include <vector>

/// What documents say, for eyes: a table and a line of verdict.
namespace wavechroma::cli {

struct Table
{
    std::string text;
    bool holds = true; ///< false: a limit fails, or something is missing
};

[[nodiscard]] Table tableOf(const Proof &proof, const ToleranceSheet &sheet);
[[nodiscard]] Table tableOf(const Comparison &comparison);
/// What matters of it, and what was asked of a group and of limits.
[[nodiscard]] std::string sentences(const Comparison &comparison);
[[nodiscard]] Table tableOf(const Drift &drift);
[[nodiscard]] Table tableOf(const StationAgreement &agreement);
[[nodiscard]] Table tableOf(const std::vector<FrameProbes> &frames);
[[nodiscard]] Table tableOf(const JobState &state, const Stations &stations);
[[nodiscard]] Table tableOf(const DeliveryPlan &plan);

inline constexpr const char *kTableHelp =
    "print a table with a verdict instead of the document; the status is 3 where it fails";
/// The table to standard output, the document to a file where one is named; the status.
int deliverTable(const Table &table, const std::string &document, const std::string &output);

} // namespace wavechroma::cli
