#include "core/jobstore/common_parts.h"

#include "core/fit/recommend.h"
#include "core/jobstore/job_rows.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace wavechroma {

namespace {

constexpr double kMuchBetter = 0.8;

/// What the charts of one kind of file say of one crossing.
struct Votes
{
    int count = 0;
    double logUnseen = 0;
};

struct Charts
{
    int count = 0; ///< that have a say
    std::map<Parts, Votes> votes;
};

/// Does the chart support more than the matrix? One that a check warns of does not, and would hold all others
/// back.
bool hasSay(const std::vector<const JobCalibration *> &rows)
{
    return std::any_of(rows.begin(), rows.end(), [](const auto *row) {
        return row->brief.isSound && isBeyondMatrix(row->brief.parts);
    });
}

std::optional<Parts> bestOf(const Charts &charts)
{
    std::optional<Parts> best;
    double least = 0;
    for (const auto &parts : crossings(true)) {
        const auto at = charts.votes.find(parts);
        if (at == charts.votes.end() || at->second.count < charts.count)
            continue;
        const double unseen = std::exp(at->second.logUnseen / at->second.count);
        if (best && !isWorthIt(parts, unseen, *best, least))
            continue;
        best = parts;
        least = unseen;
    }
    return best;
}

} // namespace

CommonParts commonParts(const JobState &state)
{
    std::map<RowId, std::vector<const JobCalibration *>> byFrame;
    for (const auto &row : state.calibrations)
        if (row.frame)
            byFrame[row.frame].push_back(&row);
    std::array<Charts, 2> kinds;
    for (const auto &[id, rows] : byFrame) {
        const auto *frame = state.frame(id);
        if (!frame || frame->setAside || frame->part != FramePart::Chart || !hasSay(rows))
            continue;
        auto &charts = kinds[frame->camera.isRendered ? 1 : 0];
        ++charts.count;
        for (const auto *row : rows)
            if (row->brief.isSound && row->brief.unseen > 0) {
                auto &votes = charts.votes[row->brief.parts];
                ++votes.count;
                votes.logUnseen += std::log(row->brief.unseen);
            }
    }
    return {bestOf(kinds[0]), bestOf(kinds[1])};
}

bool isMuchBetter(const Parts &parts, double unseen, const Parts &than, double thanUnseen)
{
    return unseen / creditOf(parts) < kMuchBetter * thanUnseen / creditOf(than);
}

} // namespace wavechroma
