#include "cli/command_line.h"

#include "cli/command.h"

#include <CLI/CLI.hpp>
#include <cstdio>
#include <sstream>

namespace wavechroma::cli {

static CLI::Option &of(void *option)
{
    return *static_cast<CLI::Option *>(option);
}

static CLI::App &commandOf(void *command)
{
    return *static_cast<CLI::App *>(command);
}

Option &Option::required()
{
    of(m_parsed).required();
    return *this;
}

Option &Option::takes(int values)
{
    of(m_parsed).expected(values);
    return *this;
}

Option &Option::oneEach()
{
    of(m_parsed).allow_extra_args(false);
    return *this;
}

Option &Option::between(int least, int most)
{
    of(m_parsed).check(CLI::Range(least, most));
    return *this;
}

Option &Option::between(double least, double most)
{
    of(m_parsed).check(CLI::Range(least, most));
    return *this;
}

Option &Option::excludes(const Option &other)
{
    of(m_parsed).excludes(&of(other.m_parsed));
    return *this;
}

Option CommandLine::option(const char *name, std::string &to, const char *help)
{
    return Option(commandOf(m_parsed).add_option(name, to, help));
}

Option CommandLine::option(const char *name, std::vector<std::string> &to, const char *help)
{
    return Option(commandOf(m_parsed).add_option(name, to, help));
}

Option CommandLine::option(const char *name, int &to, const char *help)
{
    return Option(commandOf(m_parsed).add_option(name, to, help));
}

Option CommandLine::option(const char *name, double &to, const char *help)
{
    return Option(commandOf(m_parsed).add_option(name, to, help));
}

Option CommandLine::flag(const char *name, bool &to, const char *help)
{
    return Option(commandOf(m_parsed).add_flag(name, to, help));
}

std::vector<Given> CommandLine::given() const
{
    std::vector<Given> out;
    for (const auto *option : commandOf(m_parsed).get_options())
        if (!option->results().empty())
            out.push_back({option->get_name(), option->results()});
    return out;
}

int runCommand(int argc, char **argv, const std::vector<Command> &commands,
               const std::function<int(const CommandLine &)> &sound)
{
    CLI::App app{"Wavechroma: the same colour for the same object, whatever the light"};
    app.set_version_flag("--version", WAVECHROMA_VERSION);
    app.require_subcommand(1);
    std::vector<std::pair<CLI::App *, Action>> actions;
    for (const auto &one : commands) {
        auto *command = app.add_subcommand(one.name, one.description);
        CommandLine line(command);
        actions.emplace_back(command, one.add(line));
    }
    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError &error) {
        const bool asked = error.get_exit_code() == 0; // --help, --version
        std::ostringstream out, err;
        app.exit(error, out, err);
        std::fputs(out.str().c_str(), stdout);
        say("%s", err.str().c_str());
        return asked ? Done : Unusable;
    }
    for (const auto &[command, action] : actions)
        if (command->parsed()) {
            const int status = sound(CommandLine(command));
            return status == Done ? action() : status;
        }
    return Unusable;
}

} // namespace wavechroma::cli
