#pragma once
#include "core/base/result.h"
#include "core/values/record.h"

#include <string>
#include <vector>

namespace wavechroma {

/// `wavechroma.record/1`.
[[nodiscard]] std::string documentOf(const JobRecord &record);

/// Where two records differ: numbers by more than a millionth (what two processors may differ by), all else
/// at all; when and with what they were made does not count. Unusable, naming it, where a text is no record.
[[nodiscard]] Result<std::vector<RecordDifference>>
recordDifferences(const std::string &was, const std::string &now, const std::string &name);
/// Names of the stations that a record speaks of. Unusable as above.
[[nodiscard]] Result<std::vector<std::string>> recordStations(const std::string &text,
                                                              const std::string &name);
/// The receipts of a record's deliveries. Unusable as above.
[[nodiscard]] Result<std::vector<DeliveryReceipt>> recordDeliveries(const std::string &text,
                                                                    const std::string &name);

} // namespace wavechroma
