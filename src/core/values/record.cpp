#include "core/values/record.h"

#include <algorithm>

namespace wavechroma {

bool RecordStation::passes() const
{
    return std::all_of(requirements.begin(), requirements.end(), [](const auto &r) { return r.passes; });
}

bool JobRecord::passes() const
{
    const auto isJudged = [](const RecordObject &object) { return object.probe.within.has_value(); };
    const bool isAnythingHeld = std::any_of(stations.begin(), stations.end(),
                                            [](const auto &s) { return !s.requirements.empty(); }) ||
                                std::any_of(objects.begin(), objects.end(), isJudged);
    return isAnythingHeld &&
           std::all_of(stations.begin(), stations.end(), [](const auto &s) { return s.passes(); }) &&
           std::all_of(objects.begin(), objects.end(),
                       [](const auto &o) { return o.probe.within.value_or(true); });
}

} // namespace wavechroma
