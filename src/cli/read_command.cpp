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
    std::vector<std::string> images, flats, charts;
    std::string reference, corners, tolerance, leftOut, output, assume = "srgb";
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

/// Frames of one chart at different settings are a bracket, at one setting a burst: which one to use.
void reportBracket(const std::vector<Reading> &readings)
{
    std::vector<const Reading *> found;
    size_t alike = 0;
    for (const auto &reading : readings) {
        const auto stops = settingStops(reading.camera, readings.front().camera);
        alike += stops && std::abs(*stops) < kOneSetting;
        const bool other = !stops && readings.size() > 1;
        if (!reading.found || reading.chart != readings.front().chart ||
            !samePair(reading.camera, readings.front().camera) || other)
            return;
        found.push_back(&reading);
    }
    const bool isMixed = alike > 1 && alike < readings.size(); // some at one setting, some at others
    if (found.size() < 2 || isMixed)
        return;
    const auto choice = chooseFromBracket(found);
    say("use %s: %s\n", found[choice.index]->image.c_str(), words::bracket(choice).c_str());
}

/// What to look for in each frame, by option: one chart, several, or whatever is known.
Result<std::vector<std::optional<ChartDefinition>>> chartsAsked(const ReadOptions &options)
{
    if (options.charts.size() > 1 && (!options.reference.empty() || !options.corners.empty()))
        return unusable(
            "--reference and --corners are of one chart; give chart definitions with their values, or read "
            "the charts one by one");
    std::vector<std::optional<ChartDefinition>> out;
    for (const auto &name : options.charts.empty() ? std::vector<std::string>{""} : options.charts) {
        TableReading how;
        const auto chart = chartAsked(name, options.reference, &how);
        if (!chart)
            return chart.error();
        if (*chart && !options.reference.empty())
            sayTable(options.reference, how, **chart, {});
        out.push_back(*chart);
    }
    return out;
}

/// Says its exit status, and adds the reading where that is not of the file.
int readOne(const RawFrame &frame, const ReadRequest &request, const ReadOptions &options,
            std::vector<Reading> &readings)
{
    auto reading = readFrame(frame, request);
    if (reading && reading->found && !options.leftOut.empty())
        reading = readingWithout(*reading, frame, namesIn(options.leftOut), request.sheet);
    if (!reading)
        return failed(reading.error());
    reading->flats = options.flats;
    readings.push_back(*reading);
    return report(*reading);
}

int run(const ReadOptions &options)
{
    const auto charts = chartsAsked(options);
    if (!charts)
        return failed(charts.error());
    ReadRequest request;
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
        if (!frame) {
            status = std::max(status, failed(frame.error()));
            continue;
        }
        for (const auto &chart : *charts) {
            request.definition = chart;
            status = std::max(status, readOne(*frame, request, options, readings));
        }
    }
    if (readings.empty())
        return status;
    if (charts->size() == 1)
        reportBracket(readings);
    const bool isOne = options.images.size() * charts->size() == 1;
    const auto document = isOne ? documentOf(readings.front()) : documentOf(readings);
    return std::max(status, deliver(document, options.output));
}

} // namespace

Action addRead(CommandLine &app)
{
    const auto options = std::make_shared<ReadOptions>();
    app.option("IMAGE", options->images, "chart frames, raw or rendered").required();
    app.option("--chart", options->charts,
               "a chart's id, or a chart definition file; several where several charts stand in one frame")
        .oneEach();
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
