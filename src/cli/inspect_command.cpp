#include "cli/command.h"
#include "core/tasks/inspect_task.h"

namespace wavechroma::cli {

Action addInspect(CommandLine &app)
{
    struct InspectOptions
    {
        std::string file, output;
    };
    const auto options = std::make_shared<InspectOptions>();
    app.option("FILE", options->file, "any file this program can write").required();
    app.option("-o", options->output, "file for the content; - is standard output");
    return [options] {
        const auto content = inspectFile(options->file);
        return content ? deliver(*content, options->output) : failed(content.error());
    };
}

} // namespace wavechroma::cli
