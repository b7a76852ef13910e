#pragma once
#include "core/base/result.h"

#include <CLI/CLI.hpp>
#include <functional>
#include <string>

namespace wavechroma::cli {

/// Exit status of the contract.
enum Status { Done = 0, InternalFault = 1, Unusable = 2, AnswerIsNo = 3 };

/// Declares its options on `app` and says what to do once they are parsed.
using Action = std::function<int()>;
Action addRead(CLI::App &app);
Action addBalance(CLI::App &app);
Action addFit(CLI::App &app);
Action addProve(CLI::App &app);
Action addExport(CLI::App &app);
Action addInspect(CLI::App &app);
Action addTake(CLI::App &app);
Action addDay(CLI::App &app);
Action addDemo(CLI::App &app);

/// What is refused unless `force` says that the user knows better.
[[nodiscard]] Result<wavechroma::Done> unlessForced(bool force, const std::optional<words::Phrase> &refusal);
/// Prints the message on standard error and says the exit status.
int failed(const Error &error);
/// The document to a file, whole or not at all, or to standard output for "-" and "".
int deliver(const std::string &document, const std::string &output);
/// "1,2.5,3" → numbers; nothing when it is not exactly `count` of them.
[[nodiscard]] Result<std::vector<double>> numbersIn(const std::string &text, size_t count,
                                                    const std::string &option);
[[nodiscard]] std::vector<std::string> namesIn(const std::string &text);

} // namespace wavechroma::cli
