#include "core/tasks/release.h"

#include "core/base/iso_time.h"
#include "core/base/letters.h"

#include <algorithm>
#include <cmath>
#include <filesystem>
#include <unordered_map>

namespace wavechroma {

namespace {

std::string stemOf(const JobFrame &frame)
{
    return letters::lower(std::filesystem::path(frame.path).stem().string());
}

std::string folderOf(const JobFrame &frame)
{
    return std::filesystem::path(frame.path).parent_path().string();
}

bool agree(const std::string &a, const std::string &b)
{
    return a.empty() || b.empty() || a == b;
}

/// Rendered frames of the job whose raw file came after them go, where nothing was done with them.
void removeRendered(const JobState &state, JobFrame &raw, JobChange &change)
{
    for (const auto &row : state.frames) {
        const bool serves = std::any_of(state.frames.begin(), state.frames.end(),
                                        [&](const JobFrame &other) { return other.servedBy == row.id; });
        if (!isOfOneRelease(row, raw) || !state.probesOf(row.id).empty() || row.balance || row.servedBy ||
            row.calibration || serves)
            continue;
        raw.picture = row.path;
        change.frames.push_back({row, std::nullopt});
        if (const auto *reading = state.readingOf(row.id))
            change.readings.push_back({*reading, std::nullopt});
        for (const auto *calibration : state.calibrationsOf(row.id))
            change.calibrations.push_back({*calibration, std::nullopt});
    }
}

} // namespace

bool isOfOneRelease(const JobFrame &rendered, const JobFrame &raw)
{
    if (!rendered.camera.isRendered || raw.camera.isRendered || stemOf(rendered) != stemOf(raw))
        return false;
    const auto a = secondsOf(rendered.camera.capturedAt), b = secondsOf(raw.camera.capturedAt);
    constexpr double kRounding = 2; // seconds: one file may say when the other was written
    // names begin anew on every card: without the time they have to lie side by side
    const bool isThen = a && b ? std::abs(*a - *b) <= kRounding : folderOf(rendered) == folderOf(raw);
    return isThen && agree(rendered.camera.model, raw.camera.model) &&
           agree(rendered.camera.serial, raw.camera.serial);
}

Releases pairReleases(const JobState &state, const std::vector<JobFrame *> &taken)
{
    Releases out;
    std::unordered_multimap<std::string, JobFrame *> raws;
    for (auto *frame : taken)
        if (!frame->camera.isRendered) {
            removeRendered(state, *frame, out.change);
            raws.emplace(stemOf(*frame), frame);
        }
    std::unordered_multimap<std::string, const JobFrame *> rows;
    for (const auto &row : state.frames)
        if (!row.camera.isRendered)
            rows.emplace(stemOf(row), &row);
    const auto isPicture = [&](const JobFrame &frame) {
        const auto [from, to] = raws.equal_range(stemOf(frame));
        for (auto at = from; at != to; ++at)
            if (isOfOneRelease(frame, *at->second)) {
                at->second->picture = frame.path;
                return true;
            }
        const auto [first, last] = rows.equal_range(stemOf(frame));
        for (auto at = first; at != last; ++at)
            if (isOfOneRelease(frame, *at->second)) {
                auto after = *at->second;
                after.picture = frame.path;
                out.known += after == *at->second;
                if (!(after == *at->second))
                    out.change.frames.push_back({*at->second, after});
                return true;
            }
        return false;
    };
    for (const auto *frame : taken)
        out.isPicture.push_back(frame->camera.isRendered && isPicture(*frame));
    return out;
}

} // namespace wavechroma
