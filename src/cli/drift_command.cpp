#include "cli/command.h"
#include "cli/tables.h"
#include "core/tasks/drift_task.h"
#include "core/tasks/fit_task.h"
#include "core/tasks/read_task.h"
#include "core/words/drift_words.h"

#include <algorithm>
#include <cstdio>

namespace wavechroma::cli {

namespace {

struct DriftCommandOptions
{
    std::string calibration, reference, limits = "ordinary", output;
    std::vector<std::string> readings;
    bool force = false, table = false;
};

Result<Drift> driftAsked(const DriftCommandOptions &options)
{
    const auto sheet = toleranceNamed(options.limits);
    if (!sheet)
        return sheet.error();
    const auto calibration = loadCalibration(options.calibration);
    if (!calibration)
        return calibration.error();
    std::vector<Reading> readings;
    for (const auto &file : options.readings) {
        auto reading = readingToUse(file);
        if (!reading)
            return reading.error();
        readings.push_back(std::move(*reading));
    }
    return driftOfReadings(*calibration, readings, *sheet, options.reference, options.force);
}

int runDrift(const DriftCommandOptions &options)
{
    const auto drift = driftAsked(options);
    if (!drift)
        return failed(drift.error());
    if (options.table)
        return deliverTable(tableOf(*drift), documentOf(*drift), options.output);
    for (const auto &check : drift->checks)
        say("%s: %s\n", check.image.c_str(), words::drift(check).c_str());
    const bool holds = std::all_of(drift->checks.begin(), drift->checks.end(),
                                   [](const DriftCheck &check) { return check.passes; });
    return std::max(deliver(documentOf(*drift), options.output), holds ? int(Done) : int(AnswerIsNo));
}

} // namespace

Action addDrift(CommandLine &app)
{
    const auto options = std::make_shared<DriftCommandOptions>();
    app.option("CALIBRATION", options->calibration, "the calibration in force").required();
    app.option("READING", options->readings, "later readings of its chart, by the same camera and lens")
        .required();
    app.option("--limits", options->limits,
               "ordinary, strict, or a tolerance sheet file; the status is 3 where a reading fails them");
    app.option("--reference", options->reference, "reference values: CGATS.17 text or a chart definition");
    app.flag("--table", options->table, kTableHelp);
    app.option("-o", options->output, "file for the document; - is standard output");
    app.flag("--force", options->force, "also judge readings of another camera or lens");
    return [options] { return runDrift(*options); };
}

} // namespace wavechroma::cli
