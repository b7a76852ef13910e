// A large job: 5 000 frames, 250 of them charts with all they were given, stored, opened anew, with its
// stations built, and kept up with an edit. Beside it SQLite's own time to hand out the same rows.
// wavechroma-bench-job [frames] [folder to keep]
#include "core/sim/frame_in_memory.h"
#include "core/sim/studio_set.h"
#include "core/station/stations.h"
#include "core/tasks/job_task.h"

#include <chrono>
#include <cstdlib>
#include <fmt/format.h>
#include <sqlite3.h>
#include <unistd.h>

using namespace wavechroma;

namespace {

double millisecondsOf(const std::function<void()> &work)
{
    const auto start = std::chrono::steady_clock::now();
    work();
    return std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start).count();
}

JobChange largeDay(const JobState &state, int frames)
{
    sim::StudioSettings how;
    how.shrink = 6;
    const auto shot = sim::rawFrameOf(sim::shootStudio(how));
    TakenFrame chart;
    chart.frame.camera = shot.camera;
    chart.frame.part = FramePart::Chart;
    chart.pass = passFrom(*readFrame(shot), {});
    JobChange whole;
    std::vector<TakenFrame> taken;
    for (int i = 0; i < frames; ++i) {
        TakenFrame one;
        if (i % 20 == 0)
            one = chart;
        one.frame.setup = 1 + i / 500;
        one.frame.path = fmt::format("frames/F{:05}.dng", i);
        one.frame.sha256 = fmt::format("{:064x}", i);
        one.frame.camera = shot.camera;
        one.frame.camera.capturedAt =
            fmt::format("2026-10-{:02}T{:02}:{:02}:{:02}", 1 + i / 500, 8 + i % 500 / 60, i % 60, i % 7);
        taken.push_back(one);
    }
    for (RowId setup = 2; setup <= 1 + frames / 500; ++setup)
        whole.setups.push_back({std::nullopt, JobSetup{setup, "Setup", {}}});
    JobState with = state;
    apply(with, whole);
    return merged(std::move(whole), changeFor(with, taken));
}

void readRows(const std::string &file)
{
    sqlite3 *database = nullptr;
    sqlite3_open(file.c_str(), &database);
    for (const char *query : {"select * from frame", "select * from reading", "select * from calibration"}) {
        sqlite3_stmt *statement = nullptr;
        sqlite3_prepare_v2(database, query, -1, &statement, nullptr);
        while (sqlite3_step(statement) == SQLITE_ROW)
            for (int i = 0; i < sqlite3_column_count(statement); ++i)
                (void)sqlite3_column_text(statement, i);
        sqlite3_finalize(statement);
    }
    sqlite3_close(database);
}

} // namespace

int main(int argc, char **argv)
{
    const int frames = argc > 1 ? std::atoi(argv[1]) : 5000;
    const auto folder =
        argc > 2 ? std::filesystem::path(argv[2])
                 : std::filesystem::temp_directory_path() / fmt::format("wavechroma-bench-job-{}", getpid());
    {
        auto store = JobStore::create(folder, "Large");
        const auto change = largeDay(*(*store)->load(), frames);
        fmt::print("stored in {:.0f} ms\n", millisecondsOf([&] { (void)(*store)->apply(change); }));
    }
    double open = 1e9, rows = 1e9, build = 1e9, edit = 1e9, serving = 1e9;
    for (int round = 0; round < 3; ++round) {
        JobState state;
        open = std::min(open, millisecondsOf([&] {
                            auto store = JobStore::open(folder);
                            state = *(*store)->load();
                        }));
        rows = std::min(rows, millisecondsOf([&] { readRows((folder / "job.sqlite").string()); }));
        Stations stations;
        build = std::min(build, millisecondsOf([&] { stations = Stations(state); }));
        const auto edited = [&](size_t at, auto &&how) {
            JobChange change;
            auto after = state.frames[at];
            how(after);
            change.frames.push_back({state.frames[at], after});
            apply(state, change);
            return millisecondsOf([&] { stations.update(state, change); });
        };
        edit = std::min(edit, edited(2020, [](JobFrame &f) { f.setAside = true; }));
        edit = std::min(edit, edited(4000, [](JobFrame &f) { f.part = FramePart::Product; }));
        serving = std::min(serving, millisecondsOf([&] {
                               for (const auto &frame : state.frames)
                                   (void)stations.servingOf(state, frame.id);
                           }));
    }
    fmt::print(
        "{} frames: opened in {:.0f} ms, SQLite alone {:.0f} ms, ratio {:.1f}; stations built in {:.1f} ms, "
        "one edit {:.2f} ms, what serves each of them {:.1f} ms\n",
        frames, open, rows, open / rows, build, edit, serving);
    if (argc <= 2)
        std::filesystem::remove_all(folder);
}
