#pragma once
#include "core/base/language.h"
#include "core/values/record.h"

#include <string>
#include <vector>

/// What a record says, for the report.
namespace wavechroma::words {

/// "Seven of eight colours hold." Colours with targets where there are some, else stations.
[[nodiscard]] std::string verdict(const JobRecord &record, const Language &language = plain());
/// "3 stations, 42 frames. ΔE 2.0 …": what was looked at.
[[nodiscard]] std::string scope(const JobRecord &record, const Language &language = plain());
/// What it was held to.
[[nodiscard]] std::string heldTo(const ToleranceSheet &sheet, const Language &language = plain());
/// "pass", "fail", or why nothing is said of a station.
[[nodiscard]] std::string stationVerdict(const RecordStation &station, const Language &language = plain());
/// "Strobe. Lamps: two heads. Backdrop: grey paper." Empty fields are passed over.
[[nodiscard]] std::string setup(const JobSetup &setup, const Language &language = plain());
/// What a requirement asks for.
[[nodiscard]] std::string requirement(const std::string &id, const Language &language = plain());
/// A requirement's value or limit with its unit: per cent, stops, ΔE, pixels.
[[nodiscard]] std::string amount(double value, const std::string &unit, const Language &language = plain());
/// Which colours are out, how, and what was to be expected; empty where all hold.
[[nodiscard]] std::vector<std::string> outOfLimits(const JobRecord &record,
                                                   const Language &language = plain());
/// How much was delivered, and that it can be computed again.
[[nodiscard]] std::string delivered(const JobRecord &record, const Language &language = plain());
[[nodiscard]] std::string framePart(FramePart part, const Language &language = plain());
/// One figure that does not come out the same.
[[nodiscard]] std::string difference(const RecordDifference &difference, const Language &language = plain());

} // namespace wavechroma::words
