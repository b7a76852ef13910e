#pragma once
#include "core/job/job.h"

namespace wavechroma {

/// Returns the chart frames whose readings can be merged with that of `frame`: of the same station, with
/// nothing but chart frames between, the same chart in the same light, and no check with a `stop` except
/// those of exposure. In the order of their time, without `frame` itself. Empty if `reading`, its own, was
/// not found.
[[nodiscard]] std::vector<RowId> framesToMerge(const Job &job, RowId frame, const Reading &reading);

} // namespace wavechroma
