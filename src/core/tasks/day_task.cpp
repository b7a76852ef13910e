#include "core/tasks/day_task.h"

#include "core/jobstore/job_store.h"
#include "core/station/day_document.h"

namespace wavechroma {

Result<std::string> dayOf(const std::filesystem::path &folder)
{
    const auto store = JobStore::open(folder);
    if (!store)
        return store.error();
    const auto state = (*store)->load();
    if (!state)
        return state.error();
    return dayDocument(*state, Stations(*state));
}

} // namespace wavechroma
