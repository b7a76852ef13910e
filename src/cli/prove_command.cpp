#include "cli/command.h"
#include "core/formats/documents.h"
#include "core/formats/whole_file.h"
#include "core/tasks/chart_tasks.h"

namespace wavechroma::cli {

namespace {

struct Options
{
    std::string calibration, reading, reference, output;
};

Result<Proof> proof(const Options &options)
{
    const auto calibrationText = readText(options.calibration), readingText = readText(options.reading);
    if (!calibrationText)
        return calibrationText.error();
    if (!readingText)
        return readingText.error();
    const auto calibration = calibrationFrom(*calibrationText, options.calibration);
    if (!calibration)
        return calibration.error();
    const auto reading = readingFrom(*readingText, options.reading);
    if (!reading)
        return reading.error();
    auto result = proveReading(*calibration, *reading,
                               options.reference.empty() ? std::nullopt : std::optional(options.reference));
    if (result) {
        result->calibration = options.calibration;
        result->reading = options.reading;
    }
    return result;
}

} // namespace

Action addProve(CLI::App &app)
{
    const auto options = std::make_shared<Options>();
    app.add_option("CALIBRATION", options->calibration, "a calibration")->required();
    app.add_option("READING", options->reading, "any reading of a chart")->required();
    app.add_option("--reference", options->reference,
                   "reference values: CGATS.17 text or a chart definition");
    app.add_option("-o", options->output, "where the document goes; - is standard output");
    return [options] {
        const auto result = proof(*options);
        return result ? deliver(documentOf(*result), options->output) : failed(result.error());
    };
}

} // namespace wavechroma::cli
