#include "core/tasks/demo_task.h"

#include "core/fit/fit.h"
#include "core/raw/open_frame.h"
#include "core/tasks/probe_task.h"
#include "core/tasks/render_task.h"
#include "core/tasks/serve_task.h"
#include "core/tasks/studio_task.h"
#include "core/tasks/take_task.h"

#include <algorithm>
#include <system_error>

namespace wavechroma {

namespace fs = std::filesystem;
using namespace sim;

namespace {

/// One press of the shutter in the demo's day.
struct DemoShot
{
    RowId setup;
    const char *file, *time;
    StudioSettings how;
};

const JobSetup kSetups[] = {
    {1,
     "North table, two softboxes",
     "left 1.0, right 0.5",
     "two strobes",
     "softbox 60 × 90, both sides",
     "1/2 and 1/4",
     "linen sweep",
     {},
     LampKind::Strobe},
    {2,
     "Window table, LED panel",
     "the panel sags when it gets warm",
     "LED panel",
     "umbrella",
     "80 %",
     "linen sweep",
     {},
     LampKind::Led},
    {3,
     "Copy stand, two tubes",
     "for the shade cards",
     "two tubes",
     "bare reflectors",
     "full",
     "linen",
     {},
     LampKind::Tube},
    {4,
     "Loading bay, daylight",
     "no room for the chart: a grey card",
     "the open gate",
     "scrim",
     "",
     "crates",
     {},
     LampKind::Daylight},
    {5,
     "North table, second day",
     "not touched until the 17th",
     "two strobes",
     "softbox 60 × 90, both sides",
     "1/2 and 1/4",
     "linen sweep",
     {},
     LampKind::Strobe},
};
constexpr RowId kFirstOfSecondDay = 4;

StudioSettings softboxes(double powerStops, double fNumber, Subject subject, int firstYarn = 0)
{
    StudioSettings s;
    s.powerStops = powerStops;
    s.fNumber = fNumber;
    s.subject = subject;
    s.firstYarn = firstYarn;
    return s;
}

StudioSettings second(StudioSettings s)
{
    s.camera = "Marram 8";
    s.chartX = 0.5;
    s.chartTurn = -3;
    return s;
}

StudioSettings panel(double drift, Subject subject, int firstYarn = 0)
{
    StudioSettings s = softboxes(0.3, 8, subject, firstYarn);
    s.lamp = "led";
    s.modifier = "umbrella";
    s.drift = drift;
    s.chartTurn = -8;
    return s;
}

StudioSettings copyStand(double powerStops, Subject subject, int firstYarn = 0)
{
    StudioSettings s = softboxes(powerStops, 8, subject, firstYarn);
    s.lamp = "tube";
    s.modifier = "bare reflector";
    s.lens = 1;
    s.chartTurn = 1;
    return s;
}

/// The first chart has its white clipped; the photographer closes down, brackets, and shoots yarn with two
/// bodies. After the move to the window table the panel tires before noon. Shade cards are copied under
/// tubes, with a flat for their falloff.
std::vector<DemoShot> theDay()
{
    return {
        {1, "HR_0412.dng", "2026-10-14T09:20:08", softboxes(0.7, 8, Subject::Chart)},
        {1, "HR_0413.dng", "2026-10-14T09:22:41", softboxes(0, 9, Subject::Chart)},
        {1, "HR_0414.dng", "2026-10-14T09:22:49", softboxes(0, 8, Subject::Chart)},
        {1, "HR_0415.dng", "2026-10-14T09:22:57", softboxes(0, 6.3, Subject::Chart)},
        {1, "HR_0416.dng", "2026-10-14T09:31:15", softboxes(0, 8, Subject::Skeins, 0)},
        {1, "HR_0417.dng", "2026-10-14T09:33:02", softboxes(0, 8, Subject::Skeins, 2)},
        {1, "HR_0418.dng", "2026-10-14T09:36:50", softboxes(0, 8, Subject::Skeins, 5)},
        {1, "MB_0051.dng", "2026-10-14T09:44:20", second(softboxes(0, 8, Subject::Chart))},
        {1, "MB_0052.dng", "2026-10-14T09:46:03", second(softboxes(0, 8, Subject::Skeins, 0))},
        {1, "MB_0053.dng", "2026-10-14T09:47:31", second(softboxes(0, 8, Subject::Skeins, 5))},
        {2, "HR_0419.dng", "2026-10-14T10:52:12", panel(0, Subject::Chart)},
        {2, "HR_0420.dng", "2026-10-14T10:58:40", panel(0, Subject::Skeins, 3)},
        {2, "HR_0421.dng", "2026-10-14T11:40:05", panel(0.8, Subject::Skeins, 6)},
        {2, "HR_0422.dng", "2026-10-14T11:44:27", panel(0.8, Subject::Chart)},
        {3, "HR_0423.dng", "2026-10-14T13:30:02", copyStand(-1.2, Subject::Board)},
        {3, "HR_0424.dng", "2026-10-14T13:33:48", copyStand(-1.0, Subject::Chart)},
        {3, "HR_0425.dng", "2026-10-14T13:38:10", copyStand(-1.0, Subject::Skeins, 1)},
    };
}

StudioSettings daylight(Subject subject, int firstYarn = 0)
{
    StudioSettings s = softboxes(0, 8, subject, firstYarn);
    s.lamp = "daylight";
    s.modifier = "scrim";
    return s;
}

/// The same exposure at ISO 800: the lamps are turned down for it.
StudioSettings sensitive(StudioSettings s)
{
    s.iso = 800;
    s.powerStops -= 3;
    return s;
}

StudioSettings workLamp(StudioSettings s)
{
    s.lamp = "tungsten";
    return s;
}

/// A grey card in the loading bay; charts at two ISO settings at the north table; there a work lamp was left
/// on once, and two days later one more hank is shot.
std::vector<DemoShot> theSecondDay()
{
    return {
        {4, "HR_0431.dng", "2026-10-15T08:40:12", daylight(Subject::GreyCard)},
        {4, "HR_0432.dng", "2026-10-15T08:44:30", daylight(Subject::Skeins, 2)},
        {5, "HR_0433.dng", "2026-10-15T10:02:05", softboxes(0, 8, Subject::Chart)},
        {5, "HR_0434.dng", "2026-10-15T10:05:40", sensitive(softboxes(0, 8, Subject::Chart))},
        {5, "HR_0435.dng", "2026-10-15T10:08:21", softboxes(0, 8, Subject::Skeins, 4)},
        {5, "HR_0436.dng", "2026-10-15T10:10:57", sensitive(softboxes(0, 8, Subject::Skeins, 4))},
        {5, "HR_0437.dng", "2026-10-15T10:20:33", workLamp(softboxes(0, 8, Subject::Skeins, 4))},
        {5, "HR_0438.dng", "2026-10-17T09:00:15", softboxes(0, 8, Subject::Skeins, 1)},
    };
}

/// Those that the camera wrote a picture of, too.
bool hasPicture(const std::string &file)
{
    return file == "HR_0433.dng" || file == "HR_0435.dng";
}

/// The picture that a camera would write beside its raw frame: its own white, its own matrix.
Result<Done> addPicture(const fs::path &raw)
{
    const auto frame = openFrame(raw);
    if (!frame)
        return frame.error();
    auto calibration = calibrationOfNeutral(frame->camera, frame->fileColor,
                                            frame->fileColor.asShotNeutral.value_or(Vector3{1, 1, 1}));
    if (!calibration)
        return calibration.error();
    calibration->exposureScale = 1.4; // cameras brighten their pictures
    PictureServes serves;
    serves.calibration = *calibration;
    RenderRequest request;
    request.settings.format = PictureFormat::Jpeg;
    request.folder = raw.parent_path();
    const auto jobs = renderJobs({raw}, request);
    const auto made =
        jobs ? renderPicture(jobs->front(), request, serves) : Result<RenderedPicture>(jobs.error());
    return made ? Result<Done>(Done{}) : made.error();
}

/// The dye house's own colours, and where they lie on the frames of its yarn.
JobChange probesOf(const std::vector<DemoShot> &day, const JobState &state)
{
    std::vector<std::pair<RowId, ProbePlace>> places;
    std::vector<ProbeTarget> targets;
    for (const auto &shot : day) {
        const auto frame = std::find_if(state.frames.begin(), state.frames.end(), [&](const JobFrame &f) {
            return fs::path(f.path).filename() == shot.file;
        });
        if (shot.how.subject != Subject::Skeins || frame == state.frames.end())
            continue;
        for (const auto &yarn : sim::laidYarns(shot.how)) {
            places.push_back({frame->id, {yarn.name, yarn.centre.x, yarn.centre.y, yarn.radius}});
            if (!targetNamed(targets, yarn.name))
                targets.push_back({yarn.name, yarn.color, 2.5});
        }
    }
    return probesInto(state, places, targets);
}

Progress part(const Progress &whole, double from, double to)
{
    Progress p;
    p.cancelled = whole.cancelled;
    if (whole.report)
        p.report = [&whole, from, to](double fraction, const words::Phrase &step) {
            whole.at(from + (to - from) * fraction, step);
        };
    return p;
}

} // namespace

Result<Done> makeDemo(const fs::path &folder, const DemoOptions &options, const Progress &progress)
{
    if (JobStore::holdsJob(folder))
        return unusable("{folder}: this folder already holds a job. Give another folder for the demo",
                        {{"folder", folder.string()}});
    const auto frames = folder / "frames";
    std::error_code code;
    fs::create_directories(frames, code);
    if (code)
        return unusable("{folder}: the folder cannot be made: {why}",
                        {{"folder", folder.string()}, {"why", code.message()}});
    auto day = theDay();
    if (options.days > 1)
        for (auto &shot : theSecondDay())
            day.push_back(std::move(shot));
    const double step = 1.0 / double(day.size() + 3);
    for (size_t i = 0; i < day.size(); ++i) {
        day[i].how.capturedAt = day[i].time;
        day[i].how.shrink = options.shrink * (day[i].setup < kFirstOfSecondDay ? 1 : 2);
        day[i].how.seed = 412 + i;
        if (const auto done = shootToFile(day[i].how, frames / day[i].file,
                                          part(progress, step * double(i), step * double(i + 1)));
            !done)
            return done;
        if (hasPicture(day[i].file))
            if (const auto done = addPicture(frames / day[i].file); !done)
                return done;
    }
    // Frames are taken in before the job is made, so that a demo without frames never looks like a job.
    JobState state;
    JobChange whole;
    for (const auto &setup : kSetups) {
        if (options.days < 2 && setup.id >= kFirstOfSecondDay)
            break;
        JobChange change;
        change.setups.push_back(
            {setup.id == 1 ? std::optional(JobSetup{1, "First setup", {}}) : std::nullopt, setup});
        apply(state, change);
        whole = merged(std::move(whole), change);
    }
    std::vector<FileForSetup> files;
    for (const auto &shot : day)
        files.push_back({frames / shot.file, shot.setup});
    auto taken = takeFrames(state, folder, files, part(progress, 1 - 3 * step, 1));
    if (!taken)
        return taken.error();
    for (auto &one : *taken)
        if (const auto raw = fs::path(one.frame.path).filename(); hasPicture(raw.string()))
            one.frame.picture = JobStore::keptPath(folder, (frames / raw).replace_extension(".jpg"));
    const auto arrived = changeFor(state, *taken);
    apply(state, arrived);
    whole = merged(std::move(whole), arrived);
    whole = merged(std::move(whole), probesOf(day, state));
    auto store = JobStore::create(folder, "Harbour Row, autumn dye lots");
    if (!store)
        return store.error();
    const auto first = (*store)->load();
    if (!first)
        return first.error();
    whole.setups.front().before = first->setups.front();
    if (const auto done = (*store)->apply(whole); !done || options.days < 2)
        return done;
    store->reset(); // serving opens it again
    for (const auto &by :
         {frames / "HR_0431.dng", fs::path("auto")}) // the card becomes a grey, and then the rule decides
        if (const auto served = serveFrames({folder, {frames / "HR_0432.dng"}, by.string()}); !served)
            return served.error();
    return Done{};
}

} // namespace wavechroma
