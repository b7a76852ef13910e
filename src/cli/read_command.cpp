#include "cli/command.h"
#include "core/tasks/chart_asked.h"
#include "core/tasks/read_task.h"
#include "core/words/check_words.h"
#include "core/words/frame_words.h"

#include <cmath>
#include <cstdio>

namespace wavechroma::cli {

namespace {

struct ReadOptions
{
    std::vector<std::string> images, flats;
    std::string chart, reference, corners, tolerance, leftOut, output, assume = "srgb";
    double window = 0.5;
};

/// Says on standard error what the checks found; the status for this frame.
int report(const Reading &reading)
{
    for (const auto &check : reading.checks)
        if (check.severity != Severity::Ok)
            say("%s: %s: %s\n", reading.image.c_str(), check.severity == Severity::Stop ? "stop" : "warning",
                words::message(check).c_str());
    return reading.found && reading.worst() != Severity::Stop ? Done : AnswerIsNo;
}

/// Frames of one chart at different settings are a bracket: which one to use.
void reportBracket(const std::vector<Reading> &readings)
{
    std::vector<const Reading *> found;
    for (const auto &reading : readings) {
        const auto stops = settingStops(reading.camera, readings.front().camera);
        const bool other = &reading != &readings.front() && (!stops || std::abs(*stops) < 0.1);
        if (!reading.found || reading.chart != readings.front().chart ||
            !samePair(reading.camera, readings.front().camera) || other)
            return;
        found.push_back(&reading);
    }
    if (found.size() < 2)
        return;
    const auto choice = chooseFromBracket(found);
    say("use %s: %s\n", found[choice.index]->image.c_str(), words::bracket(choice).c_str());
}

int run(const ReadOptions &options)
{
    ReadRequest request;
    TableReading how;
    const auto chart = chartAsked(options.chart, options.reference, &how);
    if (!chart)
        return failed(chart.error());
    request.definition = *chart;
    if (*chart && !options.reference.empty())
        sayTable(options.reference, how, **chart, {});
    request.windowShare = options.window;
    if (!options.tolerance.empty()) {
        const auto sheet = toleranceNamed(options.tolerance);
        if (!sheet)
            return failed(sheet.error());
        request.sheet = *sheet;
    }
    if (!options.corners.empty()) {
        const auto numbers = numbersIn(options.corners, 8, "--corners");
        if (!numbers)
            return failed(numbers.error());
        Corners corners;
        for (size_t i = 0; i < 4; ++i)
            corners[i] = {(*numbers)[2 * i], (*numbers)[2 * i + 1]};
        request.corners = corners;
    }
    std::vector<Reading> readings;
    int status = Done;
    for (const auto &image : options.images) {
        auto frame = openToMeasure(image, options.assume);
        if (frame && !options.flats.empty()) {
            words::Phrase warning;
            frame = withFlats(*frame, {options.flats.begin(), options.flats.end()}, &warning);
            if (!warning.empty())
                say("%s: warning: %s\n", image.c_str(), words::filled(warning, words::plain()).c_str());
        }
        auto reading = frame ? readFrame(*frame, request) : Result<Reading>(frame.error());
        if (reading && reading->found && !options.leftOut.empty())
            reading = readingWithout(*reading, *frame, namesIn(options.leftOut), request.sheet);
        if (!reading) {
            status = std::max(status, failed(reading.error()));
            continue;
        }
        status = std::max(status, report(*reading));
        reading->flats = options.flats;
        readings.push_back(*reading);
    }
    if (readings.empty())
        return status;
    reportBracket(readings);
    const auto document = options.images.size() == 1 ? documentOf(readings.front()) : documentOf(readings);
    return std::max(status, deliver(document, options.output));
}

} // namespace

Action addRead(CommandLine &app)
{
    const auto options = std::make_shared<ReadOptions>();
    app.option("IMAGE", options->images, "chart frames, raw or rendered").required();
    app.option("--chart", options->chart, "a chart's id, or a chart definition file");
    app.option(
        "--reference", options->reference,
        "the chart's own values: CGATS.17 text, CSV, or a chart definition; without --chart they say which "
        "layout it is");
    app.option("--corners", options->corners,
               "outer corners, x1,y1,…,x4,y4 in pixels: top-left, top-right, bottom-right, bottom-left");
    app.option("--flat", options->flats,
               "a frame of an even board, used to even the light; may be given several times")
        .oneEach();
    app.option("--window", options->window, "share of a patch's width that is measured").between(0.1, 0.9);
    app.option("--without", options->leftOut, "patches to switch off, ID,ID…");
    app.option("--tolerance", options->tolerance,
               "limits of the checks: ordinary, strict, or a tolerance sheet file");
    app.option("--assume", options->assume,
               "colour space of pictures without a profile: srgb (the default), display-p3, oprgb or romm");
    app.option("-o", options->output, "file for the document; - is standard output");
    return [options] { return run(*options); };
}

} // namespace wavechroma::cli
