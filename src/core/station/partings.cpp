#include "core/station/partings.h"

#include <algorithm>

namespace wavechroma {

static const Doubt *otherLightIn(const Serving &serving)
{
    const auto at = std::find_if(serving.doubts.begin(), serving.doubts.end(),
                                 [](const Doubt &doubt) { return doubt.code == "other-light"; });
    return at == serving.doubts.end() || serving.from == Serving::From::Hand ? nullptr : &*at;
}

std::vector<Parting> partingsOf(const JobState &state, const Stations &stations)
{
    std::vector<Parting> out;
    for (const auto *station : stations.all()) {
        bool isInRun = false;
        for (const auto id : station->frames) {
            const auto *frame = state.frame(id);
            if (frame->part != FramePart::Product || frame->setAside)
                continue;
            const auto serving = stations.servingOf(state, id);
            const auto *doubt = otherLightIn(serving);
            if (doubt && !isInRun)
                out.push_back({id, *doubt, 0});
            if (doubt)
                ++out.back().frames;
            isInRun = doubt != nullptr;
        }
    }
    return out;
}

} // namespace wavechroma
