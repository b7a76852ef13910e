#include "cli/command.h"
#include "cli/tables.h"
#include "core/tasks/chart_asked.h"
#include "core/tasks/day_task.h"
#include "core/tasks/read_task.h"
#include "core/tasks/take_task.h"
#include "core/tasks/watch_task.h"

#include <atomic>
#include <csignal>
#include <cstdio>

namespace wavechroma::cli {

namespace {

/// What both, `take` and `watch`, ask.
struct TakeTexts
{
    std::string job, setup, lamp, chart, reference, tolerance;

    void addTo(CommandLine &app)
    {
        app.option(
            "--setup", setup,
            "one lighting setup for all frames; without it, each sub-folder is a setup, and frames of one "
            "folder are divided where the light differs");
        app.option("--lamp", lamp, "kind of lamp: strobe, led, tube, tungsten, daylight, mixed or unknown");
        app.option("--chart", chart,
                   "what the frames show: a chart's id, or a chart definition file; it is kept with the job");
        app.option(
            "--reference", reference,
            "the chart's own values: CGATS.17 text, CSV, or a chart definition; without --chart they say "
            "which layout it is");
        app.option("--tolerance", tolerance,
                   "limits of the job's checks: ordinary, strict, or a tolerance sheet file");
    }

    [[nodiscard]] Result<TakeOptions> asked() const
    {
        const auto kind = lampKindFrom(lamp);
        if (!lamp.empty() && !kind)
            return unusable(
                "--lamp: \"{word}\" is not strobe, led, tube, tungsten, daylight, mixed or unknown",
                {{"word", lamp}});
        TakeOptions out{setup, kind};
        TableReading how;
        const auto asked = chartAsked(chart, reference, &how);
        if (!asked)
            return asked.error();
        out.chart = *asked;
        if (*asked && !reference.empty())
            sayTable(reference, how, **asked, {});
        if (!tolerance.empty()) {
            const auto sheet = toleranceNamed(tolerance);
            if (!sheet)
                return sheet.error();
            out.sheet = *sheet;
        }
        return out;
    }
};

std::atomic<bool> isInterrupted = false;

void onInterrupt(int)
{
    isInterrupted = true;
}

/// One line, whatever the sentence holds.
void answer(const FrameAnswer &one)
{
    std::printf("%s, %s, %s\n", one.name.c_str(), one.state.c_str(), one.sentence.c_str());
    std::fflush(stdout);
}

} // namespace

Action addTake(CommandLine &app)
{
    struct Options
    {
        TakeTexts take;
        std::vector<std::string> paths;
    };
    const auto options = std::make_shared<Options>();
    app.option("JOB", options->take.job, "folder of the job; the job is made if there is none").required();
    app.option("PATH", options->paths, "frames, or folders of frames").required();
    options->take.addTo(app);
    return [options] {
        const auto asked = options->take.asked();
        if (!asked)
            return failed(asked.error());
        const auto &job = options->take.job;
        Progress progress;
        progress.report = [](double fraction, const words::Phrase &step) {
            say("%3d %%  %s\n", int(fraction * 100), words::filled(step, words::plain()).c_str());
        };
        const auto taken = takeIntoJob(job, {options->paths.begin(), options->paths.end()}, *asked, progress);
        if (!taken)
            return failed(taken.error());
        for (const auto &problem : taken->problems)
            say("wavechroma-cli: %s\n", problem.message.c_str());
        for (const auto &parting : taken->partings)
            say("%s\n", words::filled(parting, words::plain()).c_str());
        say("%s: %d added, %d already there, %zu could not be read\n", job.c_str(), taken->taken,
            taken->known, taken->problems.size());
        return taken->problems.empty() ? int(Status::Done) : int(Status::Unusable);
    };
}

Action addWatch(CommandLine &app)
{
    struct Options
    {
        TakeTexts take;
        std::string folder;
        bool once = false;
    };
    const auto options = std::make_shared<Options>();
    app.option("JOB", options->take.job, "folder of the job; the job is made if there is none").required();
    app.option("FOLDER", options->folder, "the folder that fills").required();
    app.flag("--once", options->once, "take what is there and end");
    options->take.addTo(app);
    return [options] {
        const auto asked = options->take.asked();
        if (!asked)
            return failed(asked.error());
        std::signal(SIGINT, onInterrupt);
        std::signal(SIGTERM, onInterrupt);
        int status = Status::Done;
        WatchOptions watch;
        watch.take = *asked;
        watch.once = options->once;
        watch.onAnswer = answer;
        watch.onProblem = [&](const Error &problem) {
            say("wavechroma-cli: %s\n", problem.message.c_str());
            status = options->once ? int(Status::Unusable) : status;
        };
        Progress progress;
        progress.cancelled = &isInterrupted;
        const auto watched = watchFolder(options->take.job, options->folder, watch, progress);
        return watched ? status : failed(watched.error());
    };
}

Action addDay(CommandLine &app)
{
    struct Options
    {
        std::string job, output;
        bool table = false;
    };
    const auto options = std::make_shared<Options>();
    app.option("JOB", options->job, "the job's folder").required();
    app.flag("--table", options->table, kTableHelp);
    app.option("-o", options->output, "file for the document; - is standard output");
    return [options] {
        std::vector<Error> damaged;
        const auto day = dayOf(options->job, damaged);
        for (const auto &fault : damaged)
            say("wavechroma-cli: %s\n", fault.message.c_str());
        if (!day)
            return failed(day.error());
        return options->table
                   ? deliverTable(tableOf(day->state, day->stations), day->document(), options->output)
                   : deliver(day->document(), options->output);
    };
}

} // namespace wavechroma::cli
