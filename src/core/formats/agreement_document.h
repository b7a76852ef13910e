#pragma once
#include "core/values/station_agreement.h"

#include <string>

namespace wavechroma {

/// `wavechroma.agreement/1`.
[[nodiscard]] std::string documentOf(const StationAgreement &agreement);

} // namespace wavechroma
