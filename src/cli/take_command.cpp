#include "cli/command.h"
#include "core/tasks/chart_asked.h"
#include "core/tasks/day_task.h"
#include "core/tasks/read_task.h"
#include "core/tasks/take_task.h"

#include <cstdio>

namespace wavechroma::cli {

Action addTake(CommandLine &app)
{
    struct Options
    {
        std::string job, setup, lamp, chart, reference, tolerance;
        std::vector<std::string> paths;
    };
    const auto options = std::make_shared<Options>();
    app.option("JOB", options->job, "folder of the job; the job is made if there is none").required();
    app.option("PATH", options->paths, "frames, or folders of frames").required();
    app.option("--setup", options->setup,
               "one lighting setup for all frames; without it, each sub-folder is a setup, and frames of one "
               "folder are divided where the light differs");
    app.option("--lamp", options->lamp,
               "kind of lamp: strobe, led, tube, tungsten, daylight, mixed or unknown");
    app.option("--chart", options->chart,
               "what the frames show: a chart's id, or a chart definition file; it is kept with the job");
    app.option(
        "--reference", options->reference,
        "the chart's own values: CGATS.17 text, CSV, or a chart definition; without --chart they say which "
        "layout it is");
    app.option("--tolerance", options->tolerance,
               "limits of the job's checks: ordinary, strict, or a tolerance sheet file");
    return [options] {
        const auto lamp = lampKindFrom(options->lamp);
        if (!options->lamp.empty() && !lamp)
            return failed(
                unusable("--lamp: \"{word}\" is not strobe, led, tube, tungsten, daylight, mixed or unknown",
                         {{"word", options->lamp}}));
        TakeOptions asked{options->setup, lamp};
        TableReading how;
        const auto chart = chartAsked(options->chart, options->reference, &how);
        if (!chart)
            return failed(chart.error());
        asked.chart = *chart;
        if (*chart && !options->reference.empty())
            sayTable(options->reference, how, **chart, {});
        if (!options->tolerance.empty()) {
            const auto sheet = toleranceNamed(options->tolerance);
            if (!sheet)
                return failed(sheet.error());
            asked.sheet = *sheet;
        }
        Progress progress;
        progress.report = [](double fraction, const words::Phrase &step) {
            say("%3d %%  %s\n", int(fraction * 100), words::filled(step, words::plain()).c_str());
        };
        const auto taken =
            takeIntoJob(options->job, {options->paths.begin(), options->paths.end()}, asked, progress);
        if (!taken)
            return failed(taken.error());
        for (const auto &problem : taken->problems)
            say("wavechroma-cli: %s\n", problem.message.c_str());
        for (const auto &parting : taken->partings)
            say("%s\n", words::filled(parting, words::plain()).c_str());
        say("%s: %d added, %d already there, %zu could not be read\n", options->job.c_str(), taken->taken,
            taken->known, taken->problems.size());
        return taken->problems.empty() ? int(Status::Done) : int(Status::Unusable);
    };
}

Action addDay(CommandLine &app)
{
    struct TakeOptions
    {
        std::string job, output;
    };
    const auto options = std::make_shared<TakeOptions>();
    app.option("JOB", options->job, "the job's folder").required();
    app.option("-o", options->output, "file for the document; - is standard output");
    return [options] {
        std::vector<Error> damaged;
        const auto day = dayOf(options->job, damaged);
        for (const auto &fault : damaged)
            say("wavechroma-cli: %s\n", fault.message.c_str());
        return day ? deliver(*day, options->output) : failed(day.error());
    };
}

} // namespace wavechroma::cli
