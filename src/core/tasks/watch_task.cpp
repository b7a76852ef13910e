#include "core/tasks/watch_task.h"

#include "core/jobstore/job_store.h"
#include "core/station/stations.h"
#include "core/words/answer_words.h"

#include <algorithm>
#include <chrono>
#include <map>
#include <system_error>
#include <thread>

namespace wavechroma {

namespace fs = std::filesystem;

namespace {

constexpr auto kBetweenLooks = std::chrono::milliseconds(200);
constexpr int kMostShortLooks = 150; ///< half a minute
constexpr size_t kAtOnce = 8;        ///< frames that are looked at side by side; their answers come together

/// What tells one state of a file from another.
struct Stamp
{
    uintmax_t size = 0;
    fs::file_time_type written;
    bool operator==(const Stamp &) const = default;
};

std::optional<Stamp> stampOf(const fs::path &file)
{
    std::error_code size, time;
    const Stamp out{fs::file_size(file, size), fs::last_write_time(file, time)};
    return size || time ? std::nullopt : std::optional(out);
}

const char *stateOf(const Answer &answer)
{
    switch (answer.state) {
    case Answer::State::Good:
        return "good";
    case Answer::State::LookAgain:
        return "look-again";
    case Answer::State::ShootAgain:
        return "shoot-again";
    case Answer::State::None:
        break;
    }
    return "none";
}

FrameAnswer answerFor(const JobState &state, const Stations &stations, const JobFrame &frame)
{
    FrameAnswer out;
    if (frame.part == FramePart::Flat)
        return {{}, "flat", words::headline({})};
    if (frame.part == FramePart::Chart) {
        const auto answer = stations.answerOf(state, frame.id);
        const auto reason = words::reason(answer);
        return {{}, stateOf(answer), words::headline(answer) + (reason.empty() ? "" : ", " + reason)};
    }
    const auto serving = stations.servingOf(state, frame.id);
    const auto doubts = words::serving(serving);
    return {{},
            !serving.isServed()      ? "unserved"
            : serving.doubts.empty() ? "served"
                                     : "doubt",
            doubts.empty() ? words::servedFrom(serving.from) : doubts};
}

class Watcher
{
public:
    Watcher(fs::path job, fs::path folder, const WatchOptions &options, const Progress &progress)
        : m_job(std::move(job)), m_folder(std::move(folder)), m_options(options), m_progress(progress)
    {
    }

    Result<Done> run()
    {
        std::error_code code;
        for (bool isFirst = true; !m_progress.stopped(); isFirst = false) {
            if (!fs::is_directory(m_folder, code))
                return unusable("{folder}: is not a folder that can be watched",
                                {{"folder", m_folder.string()}});
            const bool isEnough = look() && m_options.once && !isFirst;
            if (isEnough)
                break;
            std::this_thread::sleep_for(kBetweenLooks);
        }
        return Done{};
    }

private:
    /// Returns whether nothing is waited for any more.
    bool look()
    {
        std::vector<fs::path> whole;
        bool isAtRest = true;
        for (const auto &file : framesIn({m_folder})) {
            const auto stamp = stampOf(file);
            if (!stamp || (m_done.contains(file) && m_done[file] == *stamp))
                continue;
            const bool rests = m_seen.contains(file) && m_seen[file] == *stamp && stamp->size > 0;
            m_seen[file] = *stamp;
            const bool isShort =
                rests && extentOf(file) == Extent::Short && ++m_short[file] < kMostShortLooks;
            if (rests && !isShort)
                whole.push_back(file);
            else
                isAtRest = false;
        }
        for (size_t from = 0; from < whole.size() && !m_progress.stopped(); from += kAtOnce)
            take({whole.begin() + ptrdiff_t(from),
                  whole.begin() + ptrdiff_t(std::min(from + kAtOnce, whole.size()))});
        return isAtRest;
    }

    void take(const std::vector<fs::path> &files)
    {
        const auto before = knownPaths();
        Progress inner;
        inner.cancelled = m_progress.cancelled;
        const auto taken = takeIntoJob(m_job, files, m_options.take, inner);
        if (m_progress.stopped())
            return;
        for (const auto &file : files)
            if (const auto stamp = stampOf(file))
                m_done[file] = *stamp;
        if (!taken)
            m_options.onProblem(taken.error());
        else
            for (const auto &problem : taken->problems)
                m_options.onProblem(problem);
        answer(files, before);
    }

    [[nodiscard]] std::optional<JobState> state() const
    {
        if (!JobStore::holdsJob(m_job))
            return std::nullopt;
        const auto store = JobStore::open(m_job);
        auto out = store ? (*store)->load() : Result<JobState>(store.error());
        return out ? std::optional(std::move(*out)) : std::nullopt;
    }

    [[nodiscard]] std::vector<std::string> knownPaths() const
    {
        std::vector<std::string> out;
        if (const auto now = state())
            for (const auto &frame : now->frames) {
                out.push_back(frame.path);
                out.push_back(frame.picture);
            }
        return out;
    }

    void answer(const std::vector<fs::path> &files, const std::vector<std::string> &before) const
    {
        const auto now = state();
        if (!now)
            return;
        const Stations stations(*now);
        for (const auto &file : files) {
            const auto path = JobStore::keptPath(m_job, file);
            if (std::find(before.begin(), before.end(), path) != before.end())
                continue;
            for (const auto &frame : now->frames) {
                if (frame.path != path && frame.picture != path)
                    continue;
                auto out = frame.path == path
                               ? answerFor(*now, stations, frame)
                               : FrameAnswer{{}, "picture", fs::path(frame.path).filename().string()};
                out.name = file.filename().string();
                m_options.onAnswer(out);
            }
        }
    }

    fs::path m_job, m_folder;
    const WatchOptions &m_options;
    const Progress &m_progress;
    std::map<fs::path, Stamp> m_seen, m_done;
    std::map<fs::path, int> m_short; ///< looks at which a file that rests was still short
};

} // namespace

Result<Done> watchFolder(const fs::path &job, const fs::path &folder, const WatchOptions &options,
                         const Progress &progress)
{
    return Watcher(job, folder, options, progress).run();
}

} // namespace wavechroma
