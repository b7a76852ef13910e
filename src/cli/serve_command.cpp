#include "core/tasks/serve_task.h"

#include "cli/command.h"

namespace wavechroma::cli {

Action addServe(CommandLine &app)
{
    struct ServeOptions
    {
        std::string job, by = "auto", area;
        std::vector<std::string> frames;
        bool force = false;
    };
    const auto options = std::make_shared<ServeOptions>();
    app.option("JOB", options->job, "the job's folder").required();
    app.option("FRAME", options->frames, "frames of the job").required();
    app.option(
           "--by", options->by,
           "a chart frame of their camera, lens and setup; a frame that shows a grey card, or an even field "
           "that fills it; a calibration or a preset (its file, or its name in the job); auto: the rule "
           "again")
        .required();
    app.option("--area", options->area, "x,y,w,h in frame pixels: what of the frame --by says white is");
    app.flag("--force", options->force,
             "even where it is in doubt: another light, or a white that no lamp gives");
    return [options] {
        ServeRequest request{
            options->job, {options->frames.begin(), options->frames.end()}, options->by, options->force};
        if (!options->area.empty()) {
            const auto area = numbersIn(options->area, 4, "--area");
            if (!area)
                return failed(area.error());
            request.area = {(*area)[0], (*area)[1], (*area)[2], (*area)[3]};
        }
        const auto count = serveFrames(request);
        if (!count)
            return failed(count.error());
        say("%s: %d of %zu frames changed\n", options->job.c_str(), *count, options->frames.size());
        return int(Status::Done);
    };
}

} // namespace wavechroma::cli
