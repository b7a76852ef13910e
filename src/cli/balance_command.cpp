#include "cli/command.h"
#include "core/formats/documents.h"
#include "core/formats/whole_file.h"
#include "core/tasks/chart_tasks.h"

namespace wavechroma::cli {

namespace {

struct Options {
    std::string input, patches, area, output;
};

/// JSON opens with a brace or bracket; no picture file does.
bool isDocument(const std::string &path)
{
    std::FILE *file = std::fopen(path.c_str(), "rb");
    if (!file)
        return false;
    int c = std::fgetc(file);
    while (c == ' ' || c == '\n' || c == '\r' || c == '\t')
        c = std::fgetc(file);
    std::fclose(file);
    return c == '{' || c == '[';
}

Result<Balance> balance(const Options &options)
{
    const bool document = isDocument(options.input);
    if (!options.area.empty()) {
        const auto numbers = numbersIn(options.area, 4, "--area");
        if (!numbers)
            return numbers.error();
        if (document)
            return unusable(options.input + ": is a reading; --area needs the frame itself");
        const auto frame = openFrame(options.input);
        if (!frame)
            return frame.error();
        return balanceFrameArea(*frame, {(*numbers)[0], (*numbers)[1], (*numbers)[2], (*numbers)[3]});
    }
    const BalanceRequest request{namesIn(options.patches), {}};
    if (document) {
        const auto text = readText(options.input);
        if (!text)
            return text.error();
        const auto reading = readingFrom(*text, options.input);
        return reading ? balanceReading(*reading, request) : Result<Balance>(reading.error());
    }
    const auto frame = openFrame(options.input);
    if (!frame)
        return frame.error();
    const auto reading = readFrame(*frame);
    return reading ? balanceReading(*reading, request) : Result<Balance>(reading.error());
}

} // namespace

Action addBalance(CLI::App &app)
{
    const auto options = std::make_shared<Options>();
    app.add_option("INPUT", options->input, "a frame, or a reading")->required();
    const auto patches = app.add_option("--patch", options->patches, "neutral patches, for example D2 or D2,D3");
    app.add_option("--area", options->area, "a neutral area of the frame, x,y,w,h in pixels")->excludes(patches);
    app.add_option("-o", options->output, "where the document goes; - is standard output");
    return [options] {
        const auto result = balance(*options);
        return result ? deliver(documentOf(*result), options->output) : failed(result.error());
    };
}

} // namespace wavechroma::cli
