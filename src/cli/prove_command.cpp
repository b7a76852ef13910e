#include "cli/command.h"
#include "cli/tables.h"
#include "core/tasks/fit_task.h"
#include "core/tasks/prove_task.h"
#include "core/tasks/read_task.h"
#include "core/tasks/reference_task.h"
#include "core/tasks/refusals.h"

#include <algorithm>
#include <cstdio>

namespace wavechroma::cli {

namespace {

struct ProveOptions
{
    std::string calibration, reading, reference, tolerance, output;
    bool force = false, table = false;
};

Result<Proof> proof(const ProveOptions &options)
{
    const auto calibration = loadCalibration(options.calibration);
    if (!calibration)
        return calibration.error();
    const auto reading = readingToUse(options.reading);
    if (!reading)
        return reading.error();
    if (const auto sound =
            unlessForced(options.force, refusedStation(*calibration, reading->camera, options.reading));
        !sound)
        return sound.error();
    TableReading how;
    const auto chart = referencesOf(*reading, options.reference, &how);
    if (chart)
        sayTable(options.reference, how, *chart, *reading);
    if (chart)
        if (const auto doubt = doubtedReading(*calibration, *reading, *chart))
            say("%s\n", words::filled(*doubt, words::plain()).c_str());
    auto result = proveReading(*calibration, *reading, options.reference);
    if (result) {
        result->calibration = options.calibration;
        result->reading = options.reading;
    }
    return result;
}

int run(const ProveOptions &options)
{
    const auto sheet = toleranceNamed(options.tolerance.empty() ? "ordinary" : options.tolerance);
    if (!sheet)
        return failed(sheet.error());
    auto result = proof(options);
    if (!result)
        return failed(result.error());
    if (!options.tolerance.empty())
        result->passes = passes(*result, sheet->proof);
    if (options.table)
        return deliverTable(tableOf(*result, *sheet), documentOf(*result), options.output);
    return std::max(deliver(documentOf(*result), options.output),
                    result->passes.value_or(true) ? int(Done) : int(AnswerIsNo));
}

} // namespace

Action addProve(CommandLine &app)
{
    const auto options = std::make_shared<ProveOptions>();
    app.option("CALIBRATION", options->calibration, "a calibration").required();
    app.option("READING", options->reading, "any reading of a chart").required();
    app.option("--reference", options->reference, "reference values: CGATS.17 text or a chart definition");
    app.option(
        "--tolerance", options->tolerance,
        "limits that decide: ordinary, strict, or a tolerance sheet file; the status is 3 where they fail");
    app.flag("--table", options->table, kTableHelp);
    app.option("-o", options->output, "file for the document; - is standard output");
    app.flag("--force", options->force, "also prove a reading of another camera or lens");
    return [options] { return run(*options); };
}

} // namespace wavechroma::cli
