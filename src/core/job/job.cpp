#include "core/job/job.h"

#include <algorithm>

namespace wavechroma {

namespace {

/// A picture's answer holds a calibration: a few are kept, since one frame is looked at at a time.
constexpr size_t kMostPictures = 16;

/// The row without what only its own picture shows.
JobFrame withoutLook(JobFrame row)
{
    row.balance.reset();
    row.levelThirds = 0;
    row.crop.reset();
    row.rulerPixelsPerMm = 0;
    return row;
}

bool keepsServings(const RowChange<JobFrame> &row)
{
    return row.before && row.after && withoutLook(*row.before) == withoutLook(*row.after);
}

} // namespace

bool keepsServings(const JobChange &change)
{
    return change.titles.empty() && change.setups.empty() && change.readings.empty() &&
           change.calibrations.empty() && change.charts.empty() &&
           std::all_of(change.frames.begin(), change.frames.end(),
                       [](const RowChange<JobFrame> &row) { return keepsServings(row); });
}

bool concerns(const JobChange &change, RowId frame)
{
    return !keepsServings(change) || !change.targets.empty() ||
           std::any_of(change.frames.begin(), change.frames.end(),
                       [&](const RowChange<JobFrame> &row) { return row.after->id == frame; }) ||
           std::any_of(change.probes.begin(), change.probes.end(), [&](const RowChange<JobProbe> &row) {
               return (row.before && row.before->frame == frame) || (row.after && row.after->frame == frame);
           });
}

Job::Answers &Job::Answers::operator=(const Answers &)
{
    const std::lock_guard lock(mutex);
    servings.clear();
    pictures.clear();
    return *this;
}

Job::Job(JobState rows, std::filesystem::path folder)
    : m_rows(std::move(rows)), m_stations(m_rows), m_folder(std::move(folder))
{
}

void Job::apply(const JobChange &change)
{
    wavechroma::apply(m_rows, change);
    ++m_revision;
    const bool keeps = wavechroma::keepsServings(change);
    if (!keeps)
        m_stations.update(m_rows, change);
    const std::lock_guard lock(m_answers.mutex);
    if (!keeps)
        m_answers.servings.clear();
    if (!keeps || !change.frames.empty())
        m_answers.pictures.clear();
}

const Serving &Job::serving(RowId frame) const
{
    const std::lock_guard lock(m_answers.mutex);
    const auto [at, isNew] = m_answers.servings.try_emplace(frame);
    if (isNew)
        at->second = m_stations.servingOf(m_rows, frame);
    return at->second;
}

std::shared_ptr<const PictureServes> Job::serves(const JobFrame &frame) const
{
    {
        const std::lock_guard lock(m_answers.mutex);
        if (const auto at = m_answers.pictures.find(frame.id); at != m_answers.pictures.end())
            return at->second;
    }
    auto made = std::make_shared<const PictureServes>(pictureServes(*this, frame));
    const std::lock_guard lock(m_answers.mutex);
    if (m_answers.pictures.size() >= kMostPictures)
        m_answers.pictures.clear();
    return m_answers.pictures[frame.id] = std::move(made);
}

const JobCalibration *Job::calibrationFor(RowId frame) const
{
    return calibrationBy(m_rows, serving(frame), frame);
}

} // namespace wavechroma
