#include "cli/command.h"
#include "core/tasks/report_task.h"
#include "core/words/record_words.h"

#include <cstdio>
#include <ctime>

namespace wavechroma::cli {

namespace {

struct ReportOptions
{
    std::vector<std::string> arguments, stations, deliveries;
    std::string paper = "a4", output, record, verify;
};

Progress progressTold(const char *command)
{
    Progress out;
    out.report = [command](double fraction, const words::Phrase &step) {
        say("%s: %2.0f %%, %s\n", command, 100 * fraction, words::filled(step, words::plain()).c_str());
    };
    return out;
}

std::string timeNow()
{
    const std::time_t now = std::time(nullptr);
    std::tm local{};
    localtime_r(&now, &local);
    char out[32];
    return {out, std::strftime(out, sizeof out, "%Y-%m-%dT%H:%M:%S", &local)};
}

int runVerify(const ReportOptions &options)
{
    const auto differences = verified(options.verify, options.arguments.front(), progressTold("verify"));
    if (!differences)
        return failed(differences.error());
    for (const auto &one : *differences)
        std::printf("%s\n", words::difference(one).c_str());
    if (differences->empty())
        say("%s: every figure comes out the same\n", options.verify.c_str());
    return differences->empty() ? int(Done) : int(AnswerIsNo);
}

int runReport(const ReportOptions &options)
{
    if (options.arguments.size() != 1)
        return failed(unusable("give one job"));
    if (!options.verify.empty())
        return runVerify(options);
    if (options.output.empty() && options.record.empty())
        return failed(unusable("give -o FILE.pdf or FILE.html, or --record FILE.json"));
    if (options.paper != "a4" && options.paper != "letter")
        return failed(unusable("--paper: \"{paper}\" is neither a4 nor letter", {{"paper", options.paper}}));
    const auto source = PictureSource::open({{}, options.arguments.front(), {}, {}});
    if (!source)
        return failed(source.error());
    ReportRequest request;
    request.record = {options.stations, {options.deliveries.begin(), options.deliveries.end()}, timeNow()};
    request.paper = options.paper == "letter" ? Paper::Letter : Paper::A4;
    if (!options.output.empty())
        request.files = {options.output};
    request.recordFile = options.record;
    const auto record = makeReport(*source, request, progressTold("report"));
    if (!record)
        return failed(record.error());
    for (const auto &file : record->unread)
        say("%s: cannot be read, so what it shows is not in the report\n", file.c_str());
    say("%s. %s\n", words::verdict(*record).c_str(), words::scope(*record).c_str());
    return Done;
}

} // namespace

Action addReport(CommandLine &app)
{
    const auto options = std::make_shared<ReportOptions>();
    app.option("JOB", options->arguments, "the job's folder").required();
    app.option("--station", options->stations, "only these stations, by name");
    app.option("--delivery", options->deliveries,
               "folders of deliveries, besides those that the job knows: their receipts are in the report");
    app.option("--paper", options->paper, "a4 or letter");
    app.option("-o", options->output, "file for the pages: .pdf or .html");
    app.option("--record", options->record, "file for every figure with what it comes from");
    app.option("--verify", options->verify,
               "a record: compute all its figures again from the frames and print what differs; status 3 "
               "where something does");
    return [options] { return runReport(*options); };
}

} // namespace wavechroma::cli
