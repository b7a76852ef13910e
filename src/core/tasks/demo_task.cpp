#include "core/tasks/demo_task.h"

#include "core/formats/dng_frame.h"
#include "core/sim/expose.h"
#include "core/sim/random.h"
#include "core/sim/reflectance.h"
#include "core/tasks/job_tasks.h"

#include <fmt/format.h>

namespace wavechroma {

namespace fs = std::filesystem;
using namespace sim;

namespace {

/// One press of the shutter in the demo's morning.
struct DemoShot {
    const char *file, *time;
    double exposure;   ///< see Shot
    double seconds;
    bool chart;
    int firstYarn;     ///< of a product frame
};

// The first chart frame is over-exposed and burns the white; the photographer closes down and shoots again.
constexpr DemoShot kMorning[] = {
    {"HR_0412.dng", "2026-10-14T09:20:08", 1.22, 1 / 60.0, true, 0},
    {"HR_0413.dng", "2026-10-14T09:22:41", 0.76, 1 / 100.0, true, 0},
    {"HR_0414.dng", "2026-10-14T09:31:15", 0.76, 1 / 100.0, false, 0},
    {"HR_0415.dng", "2026-10-14T09:33:02", 0.76, 1 / 100.0, false, 2},
    {"HR_0416.dng", "2026-10-14T09:36:50", 0.76, 1 / 100.0, false, 5},
};

void addTable(Scene &scene, double w, double h)
{
    const auto linen = *reflectanceOf({74, 1.5, 7}, 41, 0.05), plank = *reflectanceOf({38, 8, 16}, 43, 0.05);
    scene.background = addMaterial(scene, linen, 0.035, 9);
    scene.things.push_back(Polygon{{{0, 0.86 * h}, {w, 0.84 * h}, {w, h}, {0, h}}, addMaterial(scene, plank, 0.08, 22)});
}

void addSkeins(Scene &scene, double w, double h, int first, int count, double left, double step)
{
    for (int i = 0; i < count; ++i) {
        const auto &yarn = yarns()[size_t(first + i) % yarns().size()];
        const double x = (left + step * i) * w;
        scene.things.push_back(Skein{{x, 0.24 * h}, {x + 0.012 * w * (i % 3 - 1), 0.72 * h}, 0.045 * w, addMaterial(scene, yarn.reflectance)});
    }
}

void addChart(Scene &scene, double w, double h)
{
    PrintedChart printed;
    printed.chart = chartCatalogue().front();
    for (const auto &reflectance : chartReflectances(printed.chart))
        printed.patchMaterials.push_back(addMaterial(scene, reflectance));
    printed.frameMaterial = addMaterial(scene, flatReflectance(0.03));
    printed.corners = cornersAt(printed.chart, {{0.46 * w, 0.47 * h}, 0.44 * w, 5, 8, -6, 5});
    scene.things.push_back(printed);
}

Result<Done> shoot(const DemoShot &demo, size_t index, const fs::path &file, int shrink, const Progress &progress)
{
    const auto &body = camera("Tarn 2");
    Shot shot;
    shot.width = body.width / shrink / 2 * 2;
    shot.height = body.height / shrink / 2 * 2;
    shot.exposure = demo.exposure;
    shot.exposureSeconds = demo.seconds;
    shot.capturedAt = demo.time;
    shot.seed = 412 + index;
    Scene scene;
    scene.gradientX = 0.04;
    scene.blurPixels = shrink > 1 ? 0.5 : 0.9;
    addTable(scene, shot.width, shot.height);
    if (demo.chart) {
        addSkeins(scene, shot.width, shot.height, 1, 2, 0.80, 0.11);
        addChart(scene, shot.width, shot.height);
    } else {
        addSkeins(scene, shot.width, shot.height, demo.firstYarn, 5, 0.16, 0.165);
    }
    const auto frame = expose(scene, body, lamp("strobe"), shot, progress);
    if (progress.stopped())
        return unusable(file.string() + ": stopped");
    DngFrame dng{frame.width, frame.height, frame.samples, frame.filter, frame.black, frame.white, frame.camera,
                 frame.colorMatrix, frame.asShotNeutral, frame.orientation, "Harbour Row, made by the simulated studio"};
    return writeWhole({{file, dngFileOf(dng)}});
}

Progress part(const Progress &whole, double from, double to)
{
    Progress p;
    p.cancelled = whole.cancelled;
    if (whole.report)
        p.report = [&whole, from, to](double fraction, std::string_view step) { whole.at(from + (to - from) * fraction, step); };
    return p;
}

} // namespace

Result<Done> makeDemo(const fs::path &folder, const DemoOptions &options, const Progress &progress)
{
    if (JobStore::holdsJob(folder))
        return unusable(folder.string() + ": there is a job in this folder already; give another one for the demo");
    const auto frames = folder / "frames";
    std::error_code code;
    fs::create_directories(frames, code);
    if (code)
        return unusable(folder.string() + ": the folder cannot be made: " + code.message());
    const double step = 1.0 / double(std::size(kMorning) + 1);
    for (size_t i = 0; i < std::size(kMorning); ++i)
        if (const auto done = shoot(kMorning[i], i, frames / kMorning[i].file, options.shrink, part(progress, step * double(i), step * double(i + 1))); !done)
            return done;
    // Frames are taken in before the job is made, so that a demo without frames never looks like a job.
    auto store = JobStore::create(folder, "Harbour Row, autumn dye lots");
    if (!store)
        return store.error();
    JobState state = *(*store)->load();
    JobChange setup;
    setup.setups.push_back({state.setups.front(), JobSetup{1, "North table, two softboxes", "left 1.0, right 0.5, linen sweep"}});
    apply(state, setup);
    std::vector<TakenFrame> taken;
    const Surroundings around{folder, state.setups.front().title, {}};
    for (const auto &demo : kMorning) {
        progress.at(1 - step, std::string("reading ") + demo.file);
        auto frame = takeFrame(around, frames / demo.file);
        if (!frame)
            return frame.error();
        taken.push_back(*frame);
    }
    auto change = changeFor(state, 1, taken);
    change.setups = setup.setups;
    return (*store)->apply(change);
}

} // namespace wavechroma
