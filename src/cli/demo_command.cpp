#include "cli/command.h"
#include "core/tasks/demo_task.h"

#include <cstdio>

namespace wavechroma::cli {

Action addDemo(CommandLine &app)
{
    struct DemoOptions
    {
        std::string folder;
        int shrink = 2, days = 2;
    };
    const auto options = std::make_shared<DemoOptions>();
    app.option("DIR", options->folder, "folder of the demo job").required();
    app.option("--shrink", options->shrink, "divides the frames' width and height, for a quick look")
        .between(1, 8);
    app.option("--days", options->days, "1: a chart for each light; 2: what days bring beside it, too")
        .between(1, 2);
    return [options] {
        Progress progress;
        int last = -1;
        progress.report = [&](double fraction, const words::Phrase &) {
            const int percent = int(fraction * 100);
            if (percent / 10 != last / 10)
                say("demo: %d %%\n", percent);
            last = percent;
        };
        const auto done = makeDemo(options->folder, {options->shrink, options->days}, progress);
        return done ? int(Status::Done) : failed(done.error());
    };
}

} // namespace wavechroma::cli
