#pragma once
#include "core/proof/exposure_aims.h"
#include "core/proof/proof.h"

namespace wavechroma {

[[nodiscard]] std::string documentOf(const Proof &proof);
/// `reference`: a file of values; empty: the chart's own.
[[nodiscard]] Result<Proof> proveReading(const Calibration &calibration, const Reading &reading,
                                         const std::string &reference = {});

} // namespace wavechroma
