#pragma once
#include "core/base/result.h"
#include "core/jobstore/job_rows.h"

#include <filesystem>
#include <memory>

namespace wavechroma {

/// A job on disk: a folder with `job.sqlite` in it. Frames stay where they are; the job knows their path and
/// hash.
///
/// One action, one transaction, in the write-ahead log with full synchronisation: a process killed at any
/// moment loses at most the action in flight. On a network folder, where the log's shared memory is unsafe, a
/// rollback journal is used instead. One program at a time writes (a lock on `job.lock`, which the system
/// releases even after a kill); a second one, and a folder that cannot be written, open for looking only, and
/// `readOnlyReason` says why in words. Where the database or the lock was taken away or replaced under the
/// open job, the next change is refused, and all that was stored before is kept beside as a copy.
///
/// Each row carries a hash of its values and of its document, so that a changed letter is told: of a row when
/// the job is opened, of a document when it is asked for. In a folder that cannot be written to, a job whose
/// last changes still lie in the log is read from a copy in the temporary folder.
class JobStore
{
public:
    /// Makes the folder if need be. The database takes its name when it is whole, so that a half-made job is
    /// none. Unusable when a job is there already or the folder cannot be written.
    static Result<std::unique_ptr<JobStore>> create(const std::filesystem::path &folder,
                                                    const std::string &title);
    /// Unusable, with the reason, for a folder without a job, a damaged one, and one from another version.
    static Result<std::unique_ptr<JobStore>> open(const std::filesystem::path &folder);
    /// A job.sqlite without a byte, which a full disk leaves, is none.
    [[nodiscard]] static bool holdsJob(const std::filesystem::path &folder);
    ~JobStore();
    /// Takes a job away that came to nothing: its own files only, by what they are rather than by their
    /// names.
    void removeFiles(bool withFolder);

    [[nodiscard]] const std::filesystem::path &folder() const;
    [[nodiscard]] bool isReadOnly() const;
    [[nodiscard]] const words::Phrase &readOnlyReason() const; ///< empty when it can be written
    [[nodiscard]] bool usesWriteAheadLog() const;

    /// Documents of readings and calibrations are fetched and parsed when they are first asked for; they stay
    /// to be had after the store is gone.
    [[nodiscard]] Result<JobState> load() const;
    /// All of it or none; a full disk and a folder gone are told in words.
    [[nodiscard]] Result<Done> apply(const JobChange &change);

    /// Files that were to be brought in and still wait, full paths in their order. Not part of the state.
    [[nodiscard]] Result<std::vector<std::string>> waiting() const;
    [[nodiscard]] Result<Done> setWaiting(const std::vector<std::string> &files);

    /// A frame's path as a job in `folder` keeps it: relative when below the folder.
    [[nodiscard]] static std::string keptPath(const std::filesystem::path &folder,
                                              const std::filesystem::path &file);
    [[nodiscard]] std::filesystem::path fullPath(const JobFrame &frame) const;

private:
    struct Inner;
    explicit JobStore(std::unique_ptr<Inner> inner);
    std::unique_ptr<Inner> m_inner;
};

inline constexpr int kJobSchemaVersion = 12;

} // namespace wavechroma
