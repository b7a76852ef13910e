// Programs killed (SIGKILL) at random moments of their work: taking frames in with readings and fits,
// changing and undoing, exporting, delivering. After each kill: does the job open, is all there that was
// acknowledged, is every file whole or absent? wavechroma-bench-kill [kills of each kind] [seed]
#include "core/jobstore/job_store.h"
#include "core/raw/file_digest.h"
#include "core/sim/random.h"
#include "core/tasks/demo_task.h"

#include <chrono>
#include <cstdlib>
#include <fcntl.h>
#include <fmt/format.h>
#include <fstream>
#include <functional>
#include <map>
#include <set>
#include <sys/wait.h>
#include <thread>
#include <unistd.h>

using namespace wavechroma;
namespace fs = std::filesystem;

namespace {

struct Bench
{
    std::string cli;
    fs::path folder;
    sim::Random random;

    void fail(const std::string &what) const
    {
        fmt::print("LOST: {} (see {})\n", what, folder.string());
        std::exit(1);
    }
};

pid_t started(const std::function<int()> &work)
{
    const pid_t child = fork();
    if (child == 0) {
        const int nothing = open("/dev/null", O_WRONLY);
        dup2(nothing, 1);
        dup2(nothing, 2);
        _exit(work());
    }
    return child;
}

pid_t started(const Bench &bench, std::vector<std::string> arguments)
{
    arguments.insert(arguments.begin(), bench.cli);
    return started([&] {
        std::vector<char *> list;
        for (auto &argument : arguments)
            list.push_back(argument.data());
        list.push_back(nullptr);
        execv(list[0], list.data());
        return 127;
    });
}

int ended(pid_t child)
{
    int status = 0;
    waitpid(child, &status, 0);
    return WIFEXITED(status) ? WEXITSTATUS(status) : -1;
}

/// Was it still running when it was killed, after so many milliseconds?
bool killedAfter(pid_t child, double milliseconds)
{
    std::this_thread::sleep_for(std::chrono::microseconds(int64_t(milliseconds * 1000)));
    int status = 0;
    if (waitpid(child, &status, WNOHANG) == child)
        return false;
    kill(child, SIGKILL);
    ended(child);
    return true;
}

double millisecondsOf(const std::function<pid_t()> &start)
{
    const auto begun = std::chrono::steady_clock::now();
    ended(start());
    return std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - begun).count();
}

JobState stateOf(const Bench &bench, const fs::path &job)
{
    auto store = JobStore::open(job);
    if (!store)
        bench.fail(store.error().message);
    auto state = (*store)->load();
    if (!state)
        bench.fail(state.error().message);
    for (const auto &reading : state->readings) // documents too
        if (const auto &document = *reading.reading; document.image.empty())
            bench.fail("a reading without a frame");
    return *state;
}

using Hashes = std::map<std::string, std::string>;

/// Hidden ones are the program's own notes of what it is at.
Hashes hashesBelow(const fs::path &folder)
{
    Hashes out;
    if (!fs::exists(folder))
        return out;
    for (const auto &entry : fs::recursive_directory_iterator(folder)) {
        const auto name = fs::relative(entry.path(), folder).string();
        if (!entry.is_regular_file() || name.starts_with('.'))
            continue;
        const auto hash = sha256OfFile(entry.path());
        out[name] = hash ? *hash : hash.error().message;
    }
    return out;
}

/// Each file that is there is one of the undisturbed call's, to the byte.
void checkWhole(const Bench &bench, const Hashes &now, const Hashes &whole)
{
    for (const auto &[file, hash] : now)
        if (!whole.contains(file) || whole.at(file) != hash)
            bench.fail(file + " is not whole");
}

/// A list of receipts but for the moments at which they were written.
std::string receiptsOf(const fs::path &delivery)
{
    std::ifstream in(delivery / "delivery.json");
    std::string out, line;
    while (std::getline(in, line))
        if (line.find("\"written_at\"") == std::string::npos)
            out += line + '\n';
    return out;
}

/// Kills taking the demo's frames into a job until all are there, again and again.
int takes(Bench &bench, int kills)
{
    const auto call = [&](const fs::path &job) {
        return started(bench, {"take", job.string(), (bench.folder / "day/frames").string()});
    };
    const double takesLong = millisecondsOf([&] { return call(bench.folder / "taken whole"); });
    const size_t all = stateOf(bench, bench.folder / "taken whole").frames.size();
    int done = 0;
    for (int round = 0; done < kills; ++round) {
        const auto job = bench.folder / fmt::format("taken {}", round);
        std::set<std::string> seen;
        while (done < kills) {
            const bool wasRunning = killedAfter(call(job), bench.random.uniform(0, takesLong * 1.1));
            done += wasRunning;
            if (!JobStore::holdsJob(job))
                continue;
            std::set<std::string> now;
            auto store = JobStore::open(job);
            if (!store && seen.empty() && wasRunning)
                break; // killed while it was made: says so, and nothing was in it
            for (const auto &frame : stateOf(bench, job).frames)
                if (!now.insert(frame.path).second)
                    bench.fail(frame.path + " was taken twice");
            if (!std::includes(now.begin(), now.end(), seen.begin(), seen.end()))
                bench.fail("a frame that was there is gone");
            seen = now;
            if (seen.size() == all)
                break;
        }
        fs::remove_all(job);
    }
    return done;
}

/// Kills a program that changes a job and undoes every other change; each is acknowledged once it is stored.
int changes(Bench &bench, int kills)
{
    const auto job = bench.folder / "changed";
    fs::copy(bench.folder / "day", job, fs::copy_options::recursive);
    JobState known = stateOf(bench, job);
    for (int done = 0; done < kills; ++done) {
        int told[2];
        if (pipe(told) != 0)
            std::exit(1);
        const auto changeOf = [](const JobState &state, int n) {
            JobChange change;
            const auto &frame = state.frames[size_t(n) % state.frames.size()];
            auto after = frame;
            after.levelThirds = (after.levelThirds + 1) % 9;
            change.frames.push_back({frame, after});
            change.targets.push_back(
                {std::nullopt, JobTarget{nextId(state), {fmt::format("t{}", n), {50, 0, 0}}}});
            return change;
        };
        const pid_t child = started([&] {
            auto store = JobStore::open(job);
            JobState state = known;
            for (int n = 0; store; ++n) {
                const auto change = changeOf(state, n);
                for (const auto &step : {change, reversed(change), change})
                    if (!(*store)->apply(step) || write(told[1], "+", 1) != 1)
                        return 1;
                apply(state, change);
            }
            return 0;
        });
        close(told[1]);
        killedAfter(child, bench.random.uniform(5, 200));
        int acknowledged = 0;
        for (char c = 0; read(told[0], &c, 1) == 1;)
            ++acknowledged;
        close(told[0]);
        // replayed: what was acknowledged is there, and at most the step in flight beside it
        const JobState now = stateOf(bench, job);
        JobState expected = known;
        bool isThere = false;
        for (int step = 0; step <= acknowledged + 1 && !isThere; ++step) {
            if (step >= acknowledged)
                isThere = expected == now;
            const auto n = step / 3;
            static JobChange change;
            if (step % 3 == 0)
                change = changeOf(expected, n);
            apply(expected, step % 3 == 1 ? reversed(change) : change);
        }
        if (!isThere)
            bench.fail(fmt::format("after {} acknowledged changes the job is another", acknowledged));
        known = now;
        if (known.targets.size() > 2000) { // begin anew, or each round takes longer
            fs::remove_all(job);
            fs::copy(bench.folder / "day", job, fs::copy_options::recursive);
            known = stateOf(bench, job);
        }
    }
    return kills;
}

int exports(Bench &bench, int kills)
{
    const auto path = [&](const char *name) { return (bench.folder / name).string(); };
    ended(started(bench,
                  {"read", (bench.folder / "day/frames/HR_0414.dng").string(), "-o", path("reading.json")}));
    ended(started(bench, {"fit", path("reading.json"), "--colour", "field", "-o", path("fitted.json")}));
    const auto call = [&](const fs::path &to) {
        fs::create_directories(to);
        return started(bench, {"export", path("fitted.json"), "--dcp", (to / "a.dcp").string(), "--icc",
                               (to / "a.icc").string(), "--cube", (to / "a.cube").string(), "--csv",
                               (to / "a.csv").string()});
    };
    const double takesLong = millisecondsOf([&] { return call(bench.folder / "exported whole"); });
    const auto whole = hashesBelow(bench.folder / "exported whole");
    int done = 0;
    while (done < kills) {
        const auto to = bench.folder / "exported";
        done += killedAfter(call(to), bench.random.uniform(0, takesLong));
        checkWhole(bench, hashesBelow(to), whole);
        if (bench.random.below(3) == 0)
            fs::remove_all(to);
    }
    return done;
}

int deliveries(Bench &bench, int kills)
{
    const auto day = bench.folder / "day";
    const auto call = [&](const fs::path &to) {
        return started(bench, {"deliver", day.string(), "-o", to.string()});
    };
    const double takesLong = millisecondsOf([&] { return call(bench.folder / "delivered whole"); });
    const std::string list = "delivery.json"; // has times in it
    auto whole = hashesBelow(bench.folder / "delivered whole");
    whole.erase(list);
    const auto to = bench.folder / "delivered";
    int done = 0;
    while (done < kills) {
        const bool wasRunning = killedAfter(call(to), bench.random.uniform(0, takesLong));
        done += wasRunning;
        auto now = hashesBelow(to);
        now.erase(list);
        checkWhole(bench, now, whole);
        if (wasRunning)
            continue;
        if (now != whole || receiptsOf(to) != receiptsOf(bench.folder / "delivered whole"))
            bench.fail("a delivery that went on is another than one undisturbed");
        fs::remove_all(to);
    }
    return done;
}

} // namespace

int main(int argc, char **argv)
{
    const int kills = argc > 1 ? std::atoi(argv[1]) : 250;
    const uint64_t seed = argc > 2 ? uint64_t(std::atoll(argv[2])) : 1;
    Bench bench{(fs::canonical("/proc/self/exe").parent_path() / "wavechroma-cli").string(),
                fs::temp_directory_path() / fmt::format("wavechroma-kill-{}", getpid()), sim::Random(seed)};
    fs::create_directories(bench.folder);
    if (ended(started(bench, {"demo", (bench.folder / "day").string(), "--shrink", "6"})) != 0)
        bench.fail("the demo day cannot be made");
    const struct
    {
        const char *title;
        int (*run)(Bench &, int);
    } kinds[] = {{"changing and undoing", changes},
                 {"taking frames in", takes},
                 {"exporting", exports},
                 {"delivering", deliveries}};
    for (const auto &kind : kinds) {
        fmt::print("{:<24}{:>6} kills, nothing lost\n", kind.title, kind.run(bench, kills));
        std::fflush(stdout);
    }
    fs::remove_all(bench.folder);
}
