#pragma once
#include "core/job/picture_serves.h"
#include "core/station/stations.h"

#include <filesystem>
#include <memory>
#include <mutex>
#include <unordered_map>

namespace wavechroma {

/// A job as it is open: its rows, the stations made of them and the folder it lies in, which belong together.
/// A value: a copy is a job of its own, and may be used in another thread. What serves a frame is worked out
/// at most once until a change could make another answer of it.
class Job
{
public:
    Job() = default;
    Job(JobState rows, std::filesystem::path folder);

    [[nodiscard]] const JobState &rows() const { return m_rows; }
    [[nodiscard]] const Stations &stations() const { return m_stations; }
    [[nodiscard]] const std::filesystem::path &folder() const { return m_folder; }
    /// Returns where a frame's file lies. A kept path that is absolute stays as it is.
    [[nodiscard]] std::filesystem::path fileOf(const JobFrame &frame) const { return m_folder / frame.path; }
    /// Grows with each change.
    [[nodiscard]] uint64_t revision() const { return m_revision; }

    void apply(const JobChange &change);

    /// Stations::servingOf(). A reference stays good until the next apply().
    [[nodiscard]] const Serving &serving(RowId frame) const;
    /// How a frame becomes colour; see pictureServes().
    [[nodiscard]] std::shared_ptr<const PictureServes> serves(const JobFrame &frame) const;
    /// Stations::calibrationFor().
    [[nodiscard]] const JobCalibration *calibrationFor(RowId frame) const;

private:
    /// A copy of a job starts without answers, since its own rows hold what they point to.
    class Answers
    {
    public:
        Answers() = default;
        Answers(const Answers &) {}
        Answers &operator=(const Answers &);
        std::mutex mutex;
        std::unordered_map<RowId, Serving> servings;
        std::unordered_map<RowId, std::shared_ptr<const PictureServes>> pictures; ///< of the last few frames
    };

    JobState m_rows;
    Stations m_stations;
    std::filesystem::path m_folder;
    uint64_t m_revision = 0;
    mutable Answers m_answers;
};

/// May the change make another thing of what the bench shows of a frame: its row, its probes and targets,
/// what serves it, and the frames of its run?
[[nodiscard]] bool concerns(const JobChange &change, RowId frame);
/// Does the change leave alone what serves any frame? One of probes, targets and deliveries does, and one of
/// how frames are leaned and how light they are.
[[nodiscard]] bool keepsServings(const JobChange &change);

} // namespace wavechroma
