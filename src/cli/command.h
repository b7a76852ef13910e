#pragma once
#include "cli/command_line.h"
#include "core/base/result.h"
#include "core/tasks/read_task.h"
#include "core/values/reading.h"
#include "core/values/table_reading.h"

#include <optional>
#include <string>
#include <vector>

namespace wavechroma::cli {

/// Exit status of the contract.
enum Status { Done = 0, InternalFault = 1, Unusable = 2, AnswerIsNo = 3 };

// Each declares its options and says what to do once they are read.
Action addRead(CommandLine &app);
Action addBalance(CommandLine &app);
Action addFit(CommandLine &app);
Action addProve(CommandLine &app);
Action addAgree(CommandLine &app);
Action addCompare(CommandLine &app);
Action addDrift(CommandLine &app);
Action addReport(CommandLine &app);
Action addExport(CommandLine &app);
Action addDeliver(CommandLine &app);
Action addProbe(CommandLine &app);
Action addRender(CommandLine &app);
Action addInspect(CommandLine &app);
Action addServe(CommandLine &app);
Action addTake(CommandLine &app);
Action addWatch(CommandLine &app);
Action addDay(CommandLine &app);
Action addDemo(CommandLine &app);

/// What is refused unless `force` says that the user knows better.
[[nodiscard]] Result<wavechroma::Done> unlessForced(bool force, const std::optional<words::Phrase> &refusal);
/// A frame opened; standard error is told what a picture is taken for that does not say its space.
[[nodiscard]] Result<RawFrame> openToMeasure(const std::string &image, const std::string &assume);
/// A reading, the one to use of a bracket's array, which standard error is told, or all charts of one frame.
[[nodiscard]] Result<std::vector<Reading>> chartsToUse(const std::string &file);
/// The same where one chart is wanted.
[[nodiscard]] Result<Reading> readingToUse(const std::string &file);
/// Says on standard error what a table of references was taken for.
void sayTable(const std::string &file, const TableReading &how, const ChartDefinition &read,
              const Reading &reading);
/// Prints on standard error; what would steer a terminal is shown rather than done.
void say(const char *format, ...) __attribute__((format(printf, 1, 2)));
/// Prints the message on standard error and says the exit status.
int failed(const Error &error);
/// The document to a file, whole or not at all, or to standard output for "-" and "".
int deliver(const std::string &document, const std::string &output);
/// "1,2.5,3" → numbers; nothing when it is not exactly `count` of them.
[[nodiscard]] Result<std::vector<double>> numbersIn(const std::string &text, size_t count,
                                                    const std::string &option);
[[nodiscard]] std::vector<std::string> namesIn(const std::string &text);

} // namespace wavechroma::cli
