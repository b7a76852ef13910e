#include "cli/command.h"

#include <csignal>
#include <cstdio>
#include <exception>

using namespace wavechroma;

namespace {

struct Entry
{
    const char *name, *description;
    cli::Action (*add)(CLI::App &);
};

constexpr Entry kCommands[] = {
    {"read", "find a chart in frames and measure its patches", cli::addRead},
    {"balance", "white balance from a neutral", cli::addBalance},
    {"fit", "make a calibration from a reading", cli::addFit},
    {"prove", "apply a calibration to a reading and say how far off it is", cli::addProve},
    {"export", "write profiles and tables", cli::addExport},
    {"inspect", "show what is in a file", cli::addInspect},
    {"take", "take a shoot's frames into a job: read, fitted, answered", cli::addTake},
    {"day", "the job as the day sheet shows it", cli::addDay},
    {"demo", "make the demo job with its raw frames", cli::addDemo},
};

int run(int argc, char **argv)
{
    CLI::App app{"Wavechroma: the same colour for the same object, whatever the light"};
    app.set_version_flag("--version", WAVECHROMA_VERSION);
    app.require_subcommand(1);
    std::vector<std::pair<CLI::App *, cli::Action>> actions;
    for (const auto &entry : kCommands) {
        auto *command = app.add_subcommand(entry.name, entry.description);
        actions.emplace_back(command, entry.add(*command));
    }
    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError &error) {
        const bool asked = error.get_exit_code() == 0; // --help, --version
        app.exit(error);
        return asked ? cli::Done : cli::Unusable;
    }
    for (const auto &[command, action] : actions)
        if (command->parsed())
            return action();
    return cli::Unusable;
}

} // namespace

int main(int argc, char **argv)
{
    std::signal(SIGPIPE, SIG_IGN); // a closed pipe is a failed write with a message, not a kill
    try {
        return run(argc, argv);
    } catch (const std::exception &fault) {
        std::fprintf(stderr, "wavechroma-cli: internal fault: %s\n", fault.what());
    } catch (...) {
        std::fprintf(stderr, "wavechroma-cli: internal fault\n");
    }
    return cli::InternalFault;
}
