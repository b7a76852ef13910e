#include "cli/command.h"

#include "core/base/csv_table.h"
#include "core/base/number_text.h"
#include "core/base/shown_text.h"
#include "core/tasks/frame_files.h"
#include "core/tasks/inspect_task.h"
#include "core/tasks/read_task.h"
#include "core/tasks/reference_task.h"
#include "core/words/frame_words.h"
#include "core/words/reference_words.h"

#include <algorithm>
#include <cmath>
#include <cstdarg>
#include <cstdio>

namespace wavechroma::cli {

void say(const char *format, ...)
{
    va_list values, again;
    va_start(values, format);
    va_copy(again, values);
    std::string text(size_t(std::max(0, std::vsnprintf(nullptr, 0, format, values))) + 1, '\0');
    std::vsnprintf(text.data(), text.size(), format, again);
    va_end(again);
    va_end(values);
    text.pop_back();
    std::fputs(shown(text).c_str(), stderr);
}

void sayTable(const std::string &file, const TableReading &how, const ChartDefinition &read,
              const Reading &reading)
{
    const auto usual = chartOf(reading);
    ChartDefinition none;
    none.colorsKnown = false;
    if (const auto line = words::tableRead(file, how, read, usual ? *usual : none); !line.empty())
        say("%s\n", words::filled(line, words::plain()).c_str());
}

int failed(const Error &error)
{
    say("wavechroma-cli: %s\n", error.message.c_str());
    return error.fault == Fault::Internal ? InternalFault : Unusable;
}

Result<RawFrame> openToMeasure(const std::string &image, const std::string &assume)
{
    auto frame = openFrame(image, assume);
    if (frame && !frame->assumedSpace.empty())
        say("%s: has no profile and is read as %s. If it is in another space, give --assume display-p3, "
            "oprgb or romm\n",
            image.c_str(), frame->assumedSpace.c_str());
    return frame;
}

Result<std::vector<Reading>> chartsToUse(const std::string &file)
{
    const auto use = loadReadingToUse(file);
    if (!use)
        return use.error();
    if (use->choice)
        say("%s: %s is used. %s\n", file.c_str(), use->reading.image.c_str(),
            words::bracket(*use->choice).c_str());
    std::vector<Reading> charts{use->reading};
    charts.insert(charts.end(), use->beside.begin(), use->beside.end());
    return charts;
}

Result<Reading> readingToUse(const std::string &file)
{
    const auto charts = chartsToUse(file);
    if (!charts)
        return charts.error();
    if (charts->size() > 1)
        return unusable("{file}: holds {count} charts of one frame. Give a file with one reading",
                        {{"file", file}, {"count", double(charts->size())}});
    return charts->front();
}

Result<wavechroma::Done> unlessForced(bool force, const std::optional<words::Phrase> &refusal)
{
    if (!refusal || force)
        return wavechroma::Done{};
    return unusable("{refusal} Give --force to do it anyway.", {{"refusal", *refusal}});
}

int deliver(const std::string &document, const std::string &output)
{
    if (output.empty() || output == "-") {
        const bool written = std::fwrite(document.data(), 1, document.size(), stdout) == document.size() &&
                             std::fflush(stdout) == 0;
        return written ? Done : failed(unusable("standard output: cannot be written"));
    }
    const auto done = saveDocument(output, document);
    return done ? Done : failed(done.error());
}

Result<std::vector<double>> numbersIn(const std::string &text, size_t count, const std::string &option)
{
    std::vector<double> out;
    for (const auto &field : splitCsvLine(text)) {
        const auto value = numberFrom(field);
        if (!value)
            return unusable("{option}: \"{field}\" is not a number", {{"option", option}, {"field", field}});
        out.push_back(*value);
    }
    if (out.size() != count)
        return unusable("{option}: takes {count} numbers, got {got}",
                        {{"option", option}, {"count", double(count)}, {"got", double(out.size())}});
    return out;
}

std::vector<std::string> namesIn(const std::string &text)
{
    std::vector<std::string> out;
    for (const auto &field : splitCsvLine(text))
        if (!field.empty())
            out.push_back(field);
    return out;
}

} // namespace wavechroma::cli
