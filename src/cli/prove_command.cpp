#include "cli/command.h"
#include "core/tasks/fit_task.h"
#include "core/tasks/prove_task.h"
#include "core/tasks/read_task.h"

namespace wavechroma::cli {

namespace {

struct Options
{
    std::string calibration, reading, reference, output;
};

Result<Proof> proof(const Options &options)
{
    const auto calibration = loadCalibration(options.calibration);
    if (!calibration)
        return calibration.error();
    const auto reading = loadReading(options.reading);
    if (!reading)
        return reading.error();
    auto result = proveReading(*calibration, *reading, options.reference);
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
