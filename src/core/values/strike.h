#pragma once
#include "core/values/probe.h"
#include "core/values/station.h"

#include <string>
#include <vector>

/// What a setup still lacks while its lights are up: made by facts/strike.h.
namespace wavechroma {

struct StrikeItem
{
    enum class Id {
        Chart,    ///< of one pair: a good chart
        Light,    ///< of one pair: it moved, and no chart after the last product frame says where to
        Products, ///< all served without doubt
        Flat,     ///< of one pair: what copy work wants
        Targets,  ///< colours held to a target: seen under this light, and within their limits
        Files     ///< every frame is there, whole
    } id = Id::Chart;
    bool isMissing = false;
    std::string pair;                    ///< camera and lens, where it is about one
    Answer answer;                       ///< of Chart
    std::vector<std::string> times = {}; ///< of Chart: when they were shot; of Light: from, to
    std::optional<LightChange> change = {};
    int count = 0, of = 0;               ///< fine ones of all: frames, targets, files
    std::vector<std::string> names = {}; ///< of what is not fine: frames, targets
    std::vector<Doubt> doubts = {};      ///< of Products, one of each code
    int unserved = 0;                    ///< of Products: nothing serves them
    std::vector<Probe> over = {};        ///< of Targets: outside their limits
    int unjudged = 0;       ///< of Targets: seen, and not to be held to them (nothing serves, burnt)
    bool isAwaited = false; ///< of Targets, Files: the frames' files are still to be looked at
};

struct StrikeCard
{
    RowId setup = 0;
    std::string title, from, to; ///< times of its first and last frame
    std::vector<StrikeItem> items;
    [[nodiscard]] int missing() const
    {
        int out = 0;
        for (const auto &item : items)
            out += item.isMissing;
        return out;
    }
    [[nodiscard]] bool isAwaited() const
    {
        return std::any_of(items.begin(), items.end(), [](const auto &item) { return item.isAwaited; });
    }
};

} // namespace wavechroma
