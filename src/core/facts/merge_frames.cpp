#include "core/facts/merge_frames.h"

#include "core/capture/compare_frames.h"

#include <algorithm>
#include <iterator>

namespace wavechroma {

namespace {

/// Clipped or dark patches of one exposure are what the others are merged in for.
bool isFaulty(const Reading &reading)
{
    return std::any_of(reading.checks.begin(), reading.checks.end(), [](const Check &c) {
        return c.severity == Severity::Stop && !rowOf(c.id).mergeForgives;
    });
}

} // namespace

std::vector<RowId> framesToMerge(const Job &job, RowId frame, const Reading &reading)
{
    std::vector<RowId> out;
    const auto &state = job.rows();
    const auto *station = job.stations().of(frame);
    if (!station || !reading.found)
        return out;
    const auto &frames = station->frames;
    const auto at = std::find(frames.begin(), frames.end(), frame);
    const auto isChart = [&](RowId id) { return state.frame(id)->part == FramePart::Chart; };
    const auto end = std::find_if_not(at, frames.end(), isChart);
    const auto begin = std::find_if_not(std::reverse_iterator(at), frames.rend(), isChart).base();
    for (auto each = begin; each != end; ++each) {
        const auto *row = each == at ? nullptr : state.readingOf(*each);
        if (!row || !row->brief.found || row->brief.chart != reading.chart || isFaulty(row->brief))
            continue;
        const auto change = lightChange(reading, row->brief);
        if (change && !change->visible.any())
            out.push_back(*each);
    }
    return out;
}

} // namespace wavechroma
