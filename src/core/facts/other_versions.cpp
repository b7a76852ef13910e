#include "core/facts/other_versions.h"

#include "core/job/picture_serves.h"
#include "core/raw/open_frame.h"
#include "core/raw/overview.h"
#include "core/tasks/look_task.h"
#include "core/tasks/picture_source.h"

#include <algorithm>
#include <cmath>

namespace wavechroma {

namespace {

using Kind = OtherVersion::Kind;

bool isDamaged(const JobCalibration *row)
{
    return !row || row->calibration.fault();
}

/// The other crossings fitted to its own chart.
void addCrossings(std::vector<OtherVersion> &out, const std::vector<const JobCalibration *> &rows,
                  const Parts &shown)
{
    for (const auto *row : rows)
        if (!(row->brief.parts == shown) && row->brief.parts.tone == "as-shot" &&
            row->brief.parts.colour != "balance")
            out.push_back({Kind::OtherColour, row->brief.parts.colour, *row->calibration});
}

void addOtherCharts(std::vector<OtherVersion> &out, const JobState &state, const Station &station, RowId own)
{
    for (const auto chart : station.speaking)
        if (const auto *row = state.calibrationOf(chart, partsFor(state, chart));
            chart != own && !isDamaged(row))
            out.push_back({Kind::OtherChart, state.frame(chart)->camera.capturedAt, *row->calibration});
}

/// Colours by which another station answers, on this frame's balance: of another body in the same light, or
/// of the same pair under another one, to see whether one profile is enough.
void addOthers(std::vector<OtherVersion> &out, const Job &job, const Station &here, const JobCalibration &own)
{
    const auto &state = job.rows();
    const auto titleOf = [&](RowId setup) {
        for (const auto &row : state.setups)
            if (row.id == setup)
                return row.title;
        return std::string();
    };
    for (const auto *station : job.stations().all()) {
        const bool isSameSetup = station->setup == here.setup;
        const bool isOther = station != &here && station->camera.isRendered == here.camera.isRendered &&
                             (isSameSetup || samePair(station->camera, here.camera));
        const auto chart = station->answer.frame;
        const auto *row = chart && isOther ? state.calibrationOf(chart, partsFor(state, chart)) : nullptr;
        if (isDamaged(row))
            continue;
        auto other = *row->calibration;
        other.multipliers = own.calibration->multipliers;
        other.exposureScale = own.calibration->exposureScale;
        if (isSameSetup)
            out.push_back({Kind::OtherBody, station->camera.model, other});
        else
            out.push_back({Kind::OtherSetup, titleOf(station->setup), other});
    }
}

} // namespace

std::vector<OtherVersion> otherVersions(const Job &job, RowId frame)
{
    std::vector<OtherVersion> out;
    const auto &state = job.rows();
    const auto *station = job.stations().of(frame);
    const auto chart = job.serving(frame).chart;
    if (!station || !chart)
        return out;
    const auto shown = partsFor(state, chart);
    auto rows = state.calibrationsOf(chart);
    std::erase_if(rows, isDamaged);
    for (const auto *row : rows) // the stiffest of all
        if (row->brief.parts == Parts{"balance", "as-shot"} && !(row->brief.parts == shown))
            out.push_back({Kind::BalanceAlone, {}, *row->calibration});
    addOtherCharts(out, state, *station, chart);
    addCrossings(out, rows, shown);
    if (const auto *own = state.calibrationOf(chart, shown); !isDamaged(own))
        addOthers(out, job, *station, *own);
    out.push_back({});
    return out;
}

Result<DisplayPicture> pictureBy(const Job &job, const JobFrame &row, ShownWay way,
                                 const OtherVersion &version, int longSide, const Screen *screen,
                                 const Progress &progress)
{
    if (way == ShownWay::Version && version.kind == Kind::FilesOwn)
        return filesOwnPicture(job.fileOf(row), longSide, screen, {}, row.orientation);
    const auto opened = openFrame(job.fileOf(row));
    if (!opened)
        return opened.error();
    const auto serves =
        way == ShownWay::Version ? pictureServes(job, row, *version.calibration) : *job.serves(row);
    std::vector<words::Phrase> remarks;
    const auto frame = serves.isServed ? evened(*opened, serves, remarks) : opened;
    if (!frame)
        return frame.error();
    const bool isServed = way != ShownWay::OwnMatrix && serves.isServed;
    const auto color = isServed ? shownBy(*frame, serves, screen) : displayColorOf(*frame, screen);
    const int block = std::max(smallestBlock(*frame),
                               int(std::ceil(std::max(frame->width, frame->height) / double(longSide))));
    auto picture = displayPicture(*frame, color, block, progress);
    if (picture.rgb.empty())
        return unusable("{file}: stopped", {{"file", row.path}});
    return picture;
}

} // namespace wavechroma
