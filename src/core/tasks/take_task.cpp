#include "core/tasks/take_task.h"

#include "core/base/capture_clock.h"
#include "core/base/iso_time.h"
#include "core/base/said.h"
#include "core/raw/open_frame.h"
#include "core/station/partings.h"
#include "core/tasks/first_look.h"
#include "core/tasks/prove_task.h"
#include "core/tasks/reference_task.h"
#include "core/tasks/release.h"
#include "core/words/answer_words.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <mutex>
#include <set>
#include <system_error>
#include <tbb/parallel_for.h>

namespace wavechroma {

namespace fs = std::filesystem;

namespace {

constexpr double kOtherLight = 0.04; ///< of red/green or blue/green

/// Progress of many frames at once: how many are through.
class Counted
{
public:
    Counted(const Progress &whole, double from, double to, size_t count)
        : m_whole(whole), m_from(from), m_to(to), m_count(double(count))
    {
        m_inner.cancelled = whole.cancelled;
    }
    void one(const words::Phrase &step)
    {
        const std::lock_guard lock(m_together);
        m_whole.at(m_from + (m_to - m_from) * ++m_done / m_count, step);
    }
    [[nodiscard]] const Progress &inner() const { return m_inner; }

private:
    const Progress &m_whole;
    Progress m_inner;
    std::mutex m_together;
    double m_from, m_to, m_count, m_done = 0;
};

struct Looked
{
    FileForSetup file;
    std::optional<FirstLook> look;
    std::optional<Error> fault;
};

Result<FirstLook> lookAt(const Surroundings &job, const fs::path &file, const std::vector<std::string> &flats,
                         const Progress &progress)
{
    const auto opened = openHashed(file, progress);
    return opened ? firstLook(job, file, *opened, flats, progress) : Result<FirstLook>(opened.error());
}

void lookAtAll(const Surroundings &job, std::vector<Looked> &all, const Progress &progress)
{
    Counted counted(progress, 0, 0.6, all.size());
    tbb::parallel_for(size_t(0), all.size(), [&](size_t i) {
        if (progress.stopped())
            return;
        auto look = lookAt(job, all[i].file.file, {}, counted.inner());
        if (look)
            all[i].look = std::move(*look);
        else
            all[i].fault = look.error();
        counted.one({words::said("looking at {file}"), {{"file", all[i].file.file.filename().string()}}});
    });
}

/// What the frames before each one offer as flats, then every chart frame's own pass.
std::vector<TakenFrame> fitAll(Surroundings job, std::vector<Looked> &all, const Progress &progress)
{
    std::vector<std::vector<std::string>> flats;
    RowId next = nextId(job.few);
    for (auto &one : all) {
        auto &frame = one.look->taken.frame;
        frame.setup = one.file.setup;
        flats.push_back(one.look->reading ? flatsOf(job.few, frame.setup, frame.camera)
                                          : std::vector<std::string>());
        auto row = frame;
        row.id = next++;
        job.few.frames.push_back(row);
    }
    std::vector<TakenFrame> out(all.size());
    Counted counted(progress, 0.6, 1, all.size());
    tbb::parallel_for(size_t(0), all.size(), [&](size_t i) {
        if (progress.stopped())
            return;
        auto &look = *all[i].look;
        if (!flats[i].empty())
            if (auto again = lookAt(job, all[i].file.file, flats[i], counted.inner())) {
                again->taken.frame.setup = look.taken.frame.setup;
                again->taken.frame.picture = look.taken.frame.picture;
                look = std::move(*again);
            }
        out[i] = fitted(std::move(look), setupTitle(job.few, all[i].file.setup), counted.inner());
        counted.one({words::said("fitting {file}"), {{"file", all[i].file.file.filename().string()}}});
    });
    return out;
}

/// Neutral of a chart frame, green 1.
std::optional<Vector3> neutralOf(const Looked &one)
{
    const auto &reading = one.look->reading;
    const auto chart = reading ? chartOf(*reading) : Result<ChartDefinition>(unusable(""));
    const auto neutral = chart ? neutralIn(*reading, *chart) : std::nullopt;
    if (!neutral)
        return std::nullopt;
    return Vector3{(*neutral)[0] / (*neutral)[1], 1, (*neutral)[2] / (*neutral)[1]};
}

bool isOtherLight(const Vector3 &a, const Vector3 &b)
{
    return std::abs(a[0] / b[0] - 1) > kOtherLight || std::abs(a[2] / b[2] - 1) > kOtherLight;
}

std::string pairOf(const CameraFacts &c)
{
    return c.make + '\n' + c.model + '\n' + c.serial + '\n' + c.lens + '\n' +
           std::to_string(tellingFocalLength(c)) + (c.isRendered ? "\npicture" : "");
}

void sortByTime(std::vector<Looked> &all)
{
    CaptureClock clock;
    for (const auto &one : all)
        clock.add(one.look->taken.frame.camera.capturedAt);
    std::stable_sort(all.begin(), all.end(), [&](const Looked &a, const Looked &b) {
        return clock.isBefore(a.look->taken.frame.camera.capturedAt, b.look->taken.frame.camera.capturedAt);
    });
}

/// Another day, and not the small hours of the same: the lamps may be others by then.
bool isOtherDay(const CameraFacts &before, const CameraFacts &after)
{
    constexpr size_t kDate = 10;
    constexpr double kNight = 6 * 3600;
    const auto then = secondsOf(before.capturedAt), now = secondsOf(after.capturedAt);
    return then && now && *now - *then > kNight &&
           before.capturedAt.substr(0, kDate) != after.capturedAt.substr(0, kDate);
}

/// Where new setups begin: indices into `all`, which is in the order of time; 0 is always one.
std::vector<size_t> beginnings(const std::vector<Looked> &all)
{
    std::vector<size_t> out{0};
    std::map<std::string, Vector3> known; // first neutral of each pair in the present setup
    for (size_t i = 0; i < all.size(); ++i) {
        if (i > 0 && isOtherDay(all[i - 1].look->taken.frame.camera, all[i].look->taken.frame.camera)) {
            out.push_back(i);
            known.clear();
        }
        const auto neutral = neutralOf(all[i]);
        if (!neutral)
            continue;
        const auto &frame = all[i].look->taken.frame;
        const auto pair = pairOf(frame.camera);
        const auto at = known.find(pair);
        if (at != known.end() && isOtherLight(*neutral, at->second)) {
            size_t begin = i; // the run of chart and flat frames of this pair that the chart stands in
            const auto belongs = [&](const Looked &one) {
                const auto &f = one.look->taken.frame;
                return f.part != FramePart::Product && pairOf(f.camera) == pair;
            };
            while (begin > out.back() && belongs(all[begin - 1]) &&
                   (!neutralOf(all[begin - 1]) || !isOtherLight(*neutral, *neutralOf(all[begin - 1]))))
                --begin;
            if (begin > out.back())
                out.push_back(begin);
            known.clear();
        }
        known.emplace(pair, *neutral); // the first of the setup: a light that creeps is measured from there
    }
    return out;
}

class Taking
{
public:
    Taking(JobStore &store, JobState state, bool isNew)
        : m_store(store), m_state(std::move(state)), m_isNew(isNew)
    {
    }

    Result<TakeReport> run(const std::vector<fs::path> &paths, const TakeOptions &options,
                           const Progress &progress)
    {
        if (m_store.isReadOnly())
            return unusable(m_store.readOnlyReason());
        m_lamp = options.lamp;
        auto all = collect(paths, options);
        if (all.empty())
            return unusable("no frames were found");
        if (options.chart)
            useChart(*options.chart);
        if (options.sheet)
            useSheet(*options.sheet);
        lookAtAll(surroundingsOf(m_state, m_store.folder()), all, progress);
        if (progress.stopped())
            return unusable("{folder}: stopped. No frame was added", {{"folder", m_store.folder().string()}});
        dropUnusable(all);
        if (all.empty() && m_report.known == 0)
            return m_report.problems.front();
        dropPictures(all);
        sortByTime(all);
        putIntoSetups(all);
        const auto taken = fitAll(surroundingsOf(m_state, m_store.folder()), all, progress);
        if (progress.stopped())
            return unusable("{folder}: stopped. No frame was added", {{"folder", m_store.folder().string()}});
        JobChange whole = m_setups;
        whole = merged(std::move(whole), m_pictures);
        apply(m_state, m_pictures);
        const auto arrived = changeFor(m_state, taken);
        whole = merged(std::move(whole), arrived);
        m_report.taken = int(taken.size());
        if (!whole.isEmpty())
            if (const auto done = m_store.apply(whole); !done)
                return done.error();
        const RowId firstNew = nextId(m_state);
        apply(m_state, arrived);
        proposePartings(firstNew);
        return m_report;
    }

private:
    void proposePartings(RowId firstNew)
    {
        for (const auto &parting : partingsOf(m_state, Stations(m_state))) {
            const auto &frame = *m_state.frame(parting.frame);
            if (frame.id >= firstNew)
                m_report.partings.push_back({words::said("{file}: {doubt} If it was another light, begin a "
                                                         "setup with it ({n} {n|frame|frames})."),
                                             {{"file", frame.path},
                                              {"doubt", words::doubt(parting.doubt)},
                                              {"n", double(parting.frames)}}});
        }
    }

    /// Files with the setups that names ask for; 0 where the light is to tell.
    std::vector<Looked> collect(const std::vector<fs::path> &paths, const TakeOptions &options)
    {
        std::vector<Looked> out;
        const auto add = [&](const std::vector<fs::path> &files, RowId setup) {
            for (const auto &file : files)
                out.push_back({{file, setup}, {}, {}});
        };
        for (const auto &path : paths) {
            if (!options.setup.empty()) {
                add(framesIn({path}), setupNamed(options.setup));
                std::error_code code;
                for (const auto &folder : foldersIn(path, code))
                    add(framesIn({folder}), setupNamed(options.setup));
                continue;
            }
            add(framesIn({path}), 0);
            std::error_code code;
            for (const auto &folder : foldersIn(path, code))
                if (const auto files = framesIn({folder}); !files.empty())
                    add(files, setupNamed(folder.filename().string()));
        }
        return out;
    }

    static std::vector<fs::path> foldersIn(const fs::path &path, std::error_code &code)
    {
        std::vector<fs::path> out;
        if (!fs::is_directory(path, code))
            return out;
        for (fs::directory_iterator at(path, code), end; !code && at != end; at.increment(code))
            if (at->is_directory(code) && !JobStore::holdsJob(at->path()))
                out.push_back(at->path());
        std::sort(out.begin(), out.end());
        return out;
    }

    void dropUnusable(std::vector<Looked> &all)
    {
        std::set<std::string> hashes;
        for (const auto &frame : m_state.frames)
            hashes.insert(frame.sha256);
        std::erase_if(all, [&](const Looked &one) {
            if (!one.look) {
                m_report.problems.push_back(*one.fault);
                return true;
            }
            const bool isKnown = !hashes.insert(one.look->taken.frame.sha256).second;
            m_report.known += isKnown;
            return isKnown;
        });
    }

    /// One release is one frame, and a picture does not speak of the light beside its raw frame.
    void dropPictures(std::vector<Looked> &all)
    {
        std::vector<JobFrame *> frames;
        for (auto &one : all)
            frames.push_back(&one.look->taken.frame);
        const auto releases = pairReleases(m_state, frames);
        m_report.known += releases.known;
        m_pictures = releases.change;
        std::vector<Looked> left;
        for (size_t i = 0; i < all.size(); ++i)
            if (!releases.isPicture[i])
                left.push_back(std::move(all[i]));
        all = std::move(left);
    }

    void putIntoSetups(std::vector<Looked> &all)
    {
        std::vector<Looked> byLight, byName;
        for (auto &one : all)
            (one.file.setup ? byName : byLight).push_back(std::move(one));
        const bool isFirst = m_state.frames.empty() && byName.empty();
        size_t next = 0;
        const auto begins = byLight.empty() ? std::vector<size_t>() : beginnings(byLight);
        RowId setup = 0;
        for (size_t i = 0; i < byLight.size(); ++i) {
            if (next < begins.size() && begins[next] == i) {
                // frames that follow those of the job go on under its newest setup, unless the light says
                // otherwise
                setup = next > 0  ? newSetup({})
                        : isFirst ? lit(m_state.setups.front())
                                  : setupFor(byLight[i]);
                ++next;
            }
            byLight[i].file.setup = setup;
        }
        all = std::move(byLight);
        all.insert(all.end(), std::make_move_iterator(byName.begin()), std::make_move_iterator(byName.end()));
        sortByTime(all);
    }

    /// The setup that the frames of the job were last shot under, or on another day a new one.
    RowId setupFor(const Looked &one)
    {
        const auto &camera = one.look->taken.frame.camera;
        const auto setup = setupAt(m_state, camera);
        CaptureClock clock;
        for (const auto &frame : m_state.frames)
            clock.add(frame.camera.capturedAt);
        const JobFrame *last = nullptr;
        for (const auto &frame : m_state.frames)
            if (frame.setup == setup &&
                (!last || clock.isBefore(last->camera.capturedAt, frame.camera.capturedAt)))
                last = &frame;
        return last && isOtherDay(last->camera, camera) ? newSetup({}) : setup;
    }

    /// A setup of that title; the first, empty one of a new job takes the first name.
    RowId setupNamed(const std::string &title)
    {
        const auto known = std::find_if(m_state.setups.begin(), m_state.setups.end(),
                                        [&](const JobSetup &setup) { return setup.title == title; });
        if (known != m_state.setups.end())
            return lit(*known);
        if (m_isNew && m_state.frames.empty() && !std::exchange(m_firstNamed, true)) {
            auto renamed = m_state.setups.front();
            renamed.title = title;
            change(m_state.setups.front(), renamed);
            return lit(renamed);
        }
        return newSetup(title);
    }

    /// The setup, by the kind of lamp that was given for it.
    RowId lit(const JobSetup &setup)
    {
        const auto before = setup;
        auto after = setup;
        after.lampKind = m_lamp.value_or(before.lampKind);
        if (!(after == before))
            change(before, after);
        return before.id;
    }

    RowId newSetup(const std::string &title)
    {
        JobSetup setup;
        setup.id = nextId(m_state);
        setup.title = title.empty() ? "Setup " + std::to_string(m_state.setups.size() + 1) : title;
        setup.lampKind = m_lamp.value_or(LampKind::Unknown);
        change(std::nullopt, setup);
        return setup.id;
    }

    /// In place of one of the same id, and of the catalogue's.
    void useChart(const ChartDefinition &chart)
    {
        JobChange one;
        for (const auto &row : m_state.charts) {
            if (row.definition == chart && row.inUse)
                return;
            if (row.definition.id == chart.id && row.inUse) {
                auto retired = row;
                retired.inUse = false;
                one.charts.push_back({row, retired});
            }
        }
        one.charts.push_back({std::nullopt, JobChart{nextId(m_state), chart.name, true, chart}});
        apply(m_state, one);
        m_setups = merged(std::move(m_setups), one);
    }

    void useSheet(const ToleranceSheet &sheet)
    {
        auto after = m_state.title;
        after.tolerance = documentOf(sheet);
        JobChange one;
        one.titles.push_back({m_state.title, after});
        if (after == m_state.title)
            return;
        apply(m_state, one);
        m_setups = merged(std::move(m_setups), one);
    }

    void change(const std::optional<JobSetup> &before, const JobSetup &after)
    {
        JobChange one;
        one.setups.push_back({before, after});
        apply(m_state, one);
        m_setups = merged(std::move(m_setups), one);
    }

    JobStore &m_store;
    JobState m_state;
    JobChange m_setups, m_pictures;
    TakeReport m_report;
    std::optional<LampKind> m_lamp;
    bool m_isNew, m_firstNamed = false;
};

Error stopped(const fs::path &folder)
{
    return unusable("{folder}: stopped", {{"folder", folder.string()}});
}

} // namespace

Result<TakeReport> takeIntoJob(const fs::path &folder, const std::vector<fs::path> &paths,
                               const TakeOptions &options, const Progress &progress)
{
    const bool isNew = !JobStore::holdsJob(folder);
    if (isNew && framesIn(paths).empty()) {
        bool any = false;
        for (const auto &path : paths) {
            std::error_code code;
            any = any || fs::is_directory(path, code);
        }
        if (!any)
            return unusable("no frames were found");
    }
    const bool isNewFolder = !fs::exists(folder);
    auto title = fs::weakly_canonical(folder).filename().string();
    auto store = isNew ? JobStore::create(folder, title.empty() ? "Job" : title) : JobStore::open(folder);
    if (!store)
        return store.error();
    auto state = (*store)->load();
    if (!state)
        return state.error();
    auto report = Taking(**store, std::move(*state), isNew).run(paths, options, progress);
    if (!report && isNew)
        (*store)->removeFiles(isNewFolder); // only its own: another job may have come to lie there
    return report;
}

Result<std::vector<TakenFrame>> takeFrames(const JobState &state, const fs::path &folder,
                                           const std::vector<FileForSetup> &files, const Progress &progress)
{
    std::vector<Looked> all;
    for (const auto &file : files)
        all.push_back({file, {}, {}});
    const auto around = surroundingsOf(state, folder);
    lookAtAll(around, all, progress);
    for (const auto &one : all)
        if (!one.look)
            return progress.stopped() ? stopped(folder) : *one.fault;
    auto taken = fitAll(around, all, progress);
    if (progress.stopped())
        return stopped(folder);
    return taken;
}

} // namespace wavechroma
