#include "core/tasks/day_task.h"

#include "core/jobstore/job_store.h"
#include "core/station/day_document.h"

#include <set>

namespace wavechroma {

std::string Day::document() const
{
    return dayDocument(state, stations);
}

Result<Day> dayOf(const std::filesystem::path &folder, std::vector<Error> &damaged)
{
    const auto store = JobStore::open(folder);
    if (!store)
        return store.error();
    auto state = (*store)->load();
    if (!state)
        return state.error();
    Stations stations(*state);
    std::set<RowId> asked;
    for (const auto &frame : state->frames) {
        const auto *serving = stations.calibrationFor(*state, frame.id);
        if (serving && asked.insert(serving->id).second && serving->calibration.fault())
            damaged.push_back(*serving->calibration.fault());
    }
    return Day{std::move(*state), std::move(stations)};
}

} // namespace wavechroma
