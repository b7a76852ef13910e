#pragma once
#include <vector>

namespace wavechroma {

/// The value that half of them lie below: of an even count the upper of the middle two; 0 of none.
[[nodiscard]] double medianOf(std::vector<double> values);

} // namespace wavechroma
