#pragma once
#include "core/balance/balance.h"
#include "core/fit/calibration.h"
#include "core/proof/proof.h"

/// The contract's JSON documents. Writing never fails; reading back gives an equal value. Unknown fields are
/// ignored, a missing or wrong one is named, a newer major version is refused. `name` opens every message.
namespace wavechroma {

[[nodiscard]] std::string documentOf(const Reading &reading);
[[nodiscard]] std::string documentOf(const std::vector<Reading> &readings); ///< an array
[[nodiscard]] std::string documentOf(const Balance &balance);
[[nodiscard]] std::string documentOf(const Calibration &calibration);
[[nodiscard]] std::string documentOf(const std::vector<Calibration> &calibrations); ///< an array
[[nodiscard]] std::string documentOf(const Proof &proof);
[[nodiscard]] std::string documentOf(const ChartDefinition &chart);

/// Accepts an array with exactly one reading, too.
[[nodiscard]] Result<Reading> readingFrom(const std::string &text, const std::string &name);
/// Reads one document or an array of them.
[[nodiscard]] Result<std::vector<Reading>> readingsFrom(const std::string &text, const std::string &name);
[[nodiscard]] Result<Balance> balanceFrom(const std::string &text, const std::string &name);
/// Accepts an array with exactly one calibration, too.
[[nodiscard]] Result<Calibration> calibrationFrom(const std::string &text, const std::string &name);
[[nodiscard]] Result<Proof> proofFrom(const std::string &text, const std::string &name);
/// Reflectances are integrated under D50 with the CIE 1931 observer.
[[nodiscard]] Result<ChartDefinition> chartFrom(const std::string &text, const std::string &name);

} // namespace wavechroma
