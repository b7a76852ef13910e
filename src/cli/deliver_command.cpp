#include "cli/command.h"
#include "cli/tables.h"
#include "core/tasks/deliver_task.h"
#include "core/words/answer_words.h"

#include <cstdio>
#include <filesystem>
#include <system_error>

namespace wavechroma::cli {

namespace {

struct DeliverOptions
{
    std::string job, plan, folder;
    bool dryRun = false, listCommands = false, replace = false, table = false;
};

void tell(const std::string &text)
{
    say("%s\n", text.c_str());
}

void tellDoubts(const DeliveryPlan &plan)
{
    for (const auto &item : plan.items)
        for (const auto &doubt : item.doubts)
            tell(item.shownPath() + ": " + words::doubt(doubt));
    for (const auto &path : plan.sharingNames())
        tell(path + ": several files would have this name, so they are numbered");
}

int statusOf(const Delivery &delivery)
{
    return delivery.leftOut.empty() ? Done : AnswerIsNo;
}

void tellLeftOut(const Delivery &delivery)
{
    for (const auto &one : delivery.leftOut)
        tell(one.path + ": " + words::leftOut(one.why) + (one.form.empty() ? "" : " (" + one.form + ")"));
}

int write(const PictureSource &source, const Delivery &asked, const DeliverOptions &options)
{
    Progress progress;
    std::string told;
    progress.report = [&told](double, const words::Phrase &step) {
        if (const auto said = words::filled(step, words::plain()); said != told)
            tell(told = said);
    };
    const auto written = wavechroma::deliver(
        source, asked, options.folder,
        {.replaceAll = options.replace,
         .onPlan = tellDoubts,
         .onRemark = [](const words::Phrase &remark) { tell(words::filled(remark, words::plain())); }},
        progress);
    if (!written)
        return failed(written.error());
    tellLeftOut(*written);
    return statusOf(*written);
}

/// Of this program; its name where the system does not say.
std::filesystem::path ownPath()
{
    std::error_code code;
    auto path = std::filesystem::read_symlink("/proc/self/exe", code);
    return code ? std::filesystem::path("wavechroma-cli") : path;
}

int run(const DeliverOptions &options)
{
    if (options.table && !options.dryRun)
        return failed(unusable("--table is of a dry run; give --dry-run"));
    const auto source = PictureSource::open({{}, options.job, {}, {}});
    if (!source)
        return failed(source.error());
    const auto asked =
        options.plan.empty() ? Result<Delivery>(ordinaryDelivery()) : loadDelivery(options.plan);
    if (!asked)
        return failed(asked.error());
    if (!options.dryRun && !options.listCommands)
        return write(*source, *asked, options);
    const auto plan = planDelivery(*source, *asked, options.folder);
    if (!plan)
        return failed(plan.error());
    if (options.table)
        return deliverTable(tableOf(*plan), {}, {});
    tellDoubts(*plan);
    const auto dryRun = plan->dryRun();
    tellLeftOut(dryRun);
    for (const auto &receipt : dryRun.receipts)
        if (receipt.isStale)
            tell(receipt.path + ": is stale: what it was made by has changed since");
    if (options.dryRun)
        return std::max(cli::deliver(documentOf(dryRun), "-"), statusOf(dryRun));
    std::string lines;
    for (const auto &command : commandsOf(*source, *plan, options.plan, ownPath()))
        lines += command + "\n";
    return std::max(cli::deliver(lines, "-"), statusOf(dryRun));
}

} // namespace

Action addDeliver(CommandLine &app)
{
    const auto options = std::make_shared<DeliverOptions>();
    app.option("JOB", options->job, "the folder of a job").required();
    app.option("--plan", options->plan,
               "a wavechroma.delivery/1 with frames, forms and names; without it, all product frames as "
               "16-bit TIFF in sRGB");
    app.flag("--dry-run", options->dryRun, "print what would be written, and write nothing");
    app.flag("--table", options->table, kTableHelp);
    app.flag("--replace", options->replace,
             "replace files that are in the way: those without a receipt, or changed since");
    app.flag("--list-commands", options->listCommands,
             "print a call of render for each picture, for a job runner, and write nothing");
    app.option("-o", options->folder,
               "output folder; it is made if needed. Not needed where each form of the plan has one");
    return [options] { return run(*options); };
}

} // namespace wavechroma::cli
