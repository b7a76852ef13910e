#include "cli/command.h"
#include "cli/tables.h"
#include "core/tasks/agree_task.h"
#include "core/words/agreement_words.h"

#include <cstdio>

namespace wavechroma::cli {

namespace {

struct AgreeOptions
{
    std::string job, out, leader, output;
    bool drawTogether = false, apply = false, table = false;
    double give = 0.03;
};

int run(const AgreeOptions &options)
{
    if ((options.apply || !options.out.empty() || !options.leader.empty()) && !options.drawTogether)
        return failed(unusable("--apply, --out and --leader are of --draw-together"));
    const auto agreed = agreementOf(
        {options.job, options.drawTogether, options.give, options.apply, options.out, options.leader});
    if (!agreed)
        return failed(agreed.error());
    for (const auto &file : agreed->unread)
        say("%s: cannot be read, so its probes are not in the agreement\n", file.c_str());
    const auto document = documentOf(agreed->agreement);
    if (options.table)
        return deliverTable(tableOf(agreed->agreement), document, options.output);
    say("%s\n", words::agreement(agreed->agreement).c_str());
    return deliver(document, options.output);
}

} // namespace

Action addAgree(CommandLine &app)
{
    const auto options = std::make_shared<AgreeOptions>();
    app.option("JOB", options->job, "the job's folder").required();
    app.flag("--draw-together", options->drawTogether,
             "fit all stations at once, each near its own references and all near each other");
    app.option("--give", options->give,
               "share of its own mean error that a station may give up, 0 to 1; 0.03 unless given");
    app.flag("--apply", options->apply, "the calibrations drawn together serve the stations' product frames");
    app.option("--out", options->out, "folder for the calibrations drawn together, one a station");
    app.option("--leader", options->leader,
               "the house standard: a station, by name, that stays as it is while the others come to it");
    app.flag("--table", options->table, "print a table and a sentence instead of the document");
    app.option("-o", options->output, "file for the document; - is standard output");
    return [options] { return run(*options); };
}

} // namespace wavechroma::cli
