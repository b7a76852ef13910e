#pragma once
#include <functional>
#include <memory>
#include <string>
#include <utility>
#include <vector>

/// What the commands take, declared without the option parser's own headers: those cost a compiler half a
/// minute a file under sanitizers.
namespace wavechroma::cli {

/// What a command does once its options are read; gives the exit status.
using Action = std::function<int()>;

/// One option, as it is declared.
class Option
{
public:
    explicit Option(void *parsed) : m_parsed(parsed) {}
    Option &required();
    Option &takes(int values);
    Option &oneEach(); ///< one value each time it is given
    Option &between(int least, int most);
    Option &between(double least, double most);
    Option &excludes(const Option &other);

private:
    void *m_parsed; ///< the parser's, which owns it
};

/// An option that was given, and its values.
struct Given
{
    std::string name;
    std::vector<std::string> values;
};

/// The options of one command. Values go where they are declared to go, which must live until then.
class CommandLine
{
public:
    explicit CommandLine(void *parsed) : m_parsed(parsed) {}
    Option option(const char *name, std::string &to, const char *help);
    Option option(const char *name, std::vector<std::string> &to, const char *help);
    Option option(const char *name, int &to, const char *help);
    Option option(const char *name, double &to, const char *help);
    Option flag(const char *name, bool &to, const char *help);
    [[nodiscard]] std::vector<Given> given() const;

private:
    void *m_parsed;
};

/// A command's name, what it does, and what declares its options.
struct Command
{
    const char *name, *description;
    Action (*add)(CommandLine &);
};

/// Reads a call of one of the commands and does it; help, version and calls that cannot be read are answered
/// here. `sound`: asked before the command is done; a status other than 0 ends the call.
[[nodiscard]] int runCommand(int argc, char **argv, const std::vector<Command> &commands,
                             const std::function<int(const CommandLine &)> &sound);

} // namespace wavechroma::cli
