#include "cli/command.h"
#include "cli/tables.h"
#include "core/tasks/compare_task.h"
#include "core/tasks/read_task.h"
#include "core/words/comparison_words.h"

#include <cstdio>

namespace wavechroma::cli {

namespace {

struct CompareOptions
{
    std::string a, b, reading, reference, measure = "de2000", encoding, tolerance, group, output;
    bool force = false, table = false;
};

std::string measureIds()
{
    std::vector<std::string> ids;
    for (const auto &row : kDifferenceMeasures)
        ids.emplace_back(row.id);
    return words::joined(ids, ", ");
}

Result<CompareRequest> requestOf(const CompareOptions &options)
{
    CompareRequest out;
    out.a = options.a;
    out.b = options.b;
    out.reference = options.reference;
    out.isForced = options.force;
    const auto measure = differenceMeasureFrom(options.measure);
    if (!measure)
        return unusable("--measure: \"{text}\" is none of {ids}",
                        {{"text", options.measure}, {"ids", measureIds()}});
    out.measure = *measure;
    out.group = namesIn(options.group);
    if (!options.tolerance.empty()) {
        const auto sheet = toleranceNamed(options.tolerance);
        if (!sheet)
            return sheet.error();
        out.sheet = *sheet;
    }
    if (options.encoding == "linear" || options.encoding == "srgb")
        out.coding = options.encoding == "linear" ? CameraCoding::Linear : CameraCoding::Srgb;
    else if (!options.encoding.empty())
        return unusable("--encoding: \"{text}\" is neither linear nor srgb", {{"text", options.encoding}});
    if (!options.reading.empty()) {
        auto reading = readingToUse(options.reading);
        if (!reading)
            return reading.error();
        out.reading = std::move(*reading);
    }
    return out;
}

int run(const CompareOptions &options)
{
    const auto request = requestOf(options);
    if (!request)
        return failed(request.error());
    const auto comparison = compareFiles(*request);
    if (!comparison)
        return failed(comparison.error());
    if (options.table)
        return deliverTable(tableOf(*comparison), documentOf(*comparison), options.output);
    say("%s\n", sentences(*comparison).c_str());
    return deliver(documentOf(*comparison), options.output);
}

} // namespace

Action addCompare(CommandLine &app)
{
    const auto options = std::make_shared<CompareOptions>();
    app.option("A", options->a,
               "a calibration, DNG camera profile, ICC profile or .cube; or plain: white balance and the "
               "raw file's own matrix")
        .required();
    app.option("B", options->b, "another").required();
    app.option("--reading", options->reading,
               "a chart's reading: its patches are compared one by one, and profiles and tables are given "
               "its neutral "
               "and exposure");
    app.option("--reference", options->reference, "reference values: CGATS.17 text or a chart definition");
    app.option("--measure", options->measure, "de2000, de94, de94-textiles or de76");
    app.option("--group", options->group, "patches of the reading to look at together, for example A3,B1");
    app.option("--tolerance", options->tolerance,
               "ordinary, strict, or a tolerance sheet file: its limits in the measure, held against both");
    app.option("--encoding", options->encoding,
               "linear or srgb: how camera RGB goes into a profile or table that does not say it");
    app.flag("--table", options->table, "print a table and a sentence instead of the document");
    app.option("-o", options->output, "file for the document; - is standard output");
    app.flag("--force", options->force, "also compare what is of other cameras or lenses");
    return [options] { return run(*options); };
}

} // namespace wavechroma::cli
