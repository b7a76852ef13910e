#include "cli/command.h"
#include "cli/setting_options.h"
#include "core/tasks/deliver_task.h"
#include "core/tasks/render_task.h"
#include "core/tasks/table_task.h"
#include "core/words/answer_words.h"

#include <algorithm>
#include <cstdio>

namespace wavechroma::cli {

namespace {

struct RenderOptions
{
    std::vector<std::string> images;
    std::string calibration, job, balance, flat, assume = "srgb", folder, name, plan, form, crop, cube;
    SettingOptions<PictureSettings> settings{pictureSettings()};
    bool overwrite = false, anyCamera = false;
};

Result<RenderRequest> requestFrom(const RenderOptions &options)
{
    if (options.calibration.empty() == options.job.empty())
        return unusable("give one of --calibration, --job and --cube");
    if (options.plan.empty() != options.form.empty() || (!options.plan.empty() && options.job.empty()))
        return unusable("--plan and --form go together, with --job");
    auto settings = options.settings.settings();
    if (!settings)
        return settings.error();
    RenderRequest out;
    if (!options.plan.empty()) {
        const auto form = pictureForm(options.plan, options.form);
        if (!form)
            return form.error();
        if (!(*settings == PictureSettings()))
            return unusable("--form says how the picture is made; leave the other settings out");
        *settings = form->picture;
        out.colour = form->colour;
        out.crops = form->crops;
    }
    const auto isByChart = [](const ChartAmount &amount) { return amount.by == ChartAmount::By::Chart; };
    if (options.job.empty() && (isByChart(settings->sharpen) || isByChart(settings->straighten)))
        return unusable("--sharpen chart and --straighten chart need a job's charts; give --job, or numbers");
    if (!options.crop.empty()) {
        out.crop = cropFrom(options.crop);
        if (!out.crop)
            return unusable(
                "--crop: \"{text}\" is neither x,y,width,height[,degrees] nor four corners and a size",
                {{"text", options.crop}});
    }
    out.calibration = options.calibration;
    out.job = options.job;
    out.balance = options.balance;
    out.flat = options.flat;
    out.settings = *settings;
    out.overwrite = options.overwrite;
    out.anyCamera = options.anyCamera;
    out.assume = options.assume;
    out.folder = options.folder;
    out.name = options.name;
    return out;
}

void tell(const std::string &text)
{
    say("%s\n", text.c_str());
}

/// One picture; says its exit status.
int renderOne(const RenderJob &job, const RenderRequest &request, const PictureSource &source)
{
    const auto made = renderPicture(job, request, source);
    if (!made)
        return failed(made.error());
    if (!made->isServed) {
        tell(job.image.string() + ": has no calibration in this job");
        return AnswerIsNo;
    }
    if (!made->fitsItsForm) {
        tell(job.image.string() + ": " + words::leftOut("cannot-fit"));
        return AnswerIsNo;
    }
    for (const auto &doubt : made->doubts)
        tell(job.image.string() + ": " + words::doubt(doubt));
    for (const auto &remark : made->remarks)
        tell(words::filled(remark, words::plain()));
    tell(made->file.string() + ": " + std::to_string(made->size.width) + " x " +
         std::to_string(made->size.height) + " pixels");
    return Done;
}

/// Pictures through a table of whoever made it; nothing else is said of how they are made.
int runThroughTable(const RenderOptions &options, const std::vector<std::filesystem::path> &images)
{
    const auto settings = options.settings.settings();
    if (!settings)
        return failed(settings.error());
    const bool isAlone = options.calibration.empty() && options.job.empty() && options.balance.empty() &&
                         options.flat.empty() && options.plan.empty() && options.form.empty() &&
                         options.crop.empty() && *settings == PictureSettings();
    if (!isAlone)
        return failed(
            unusable("--cube is by itself: pictures stay as they are but for their colours. Leave the "
                     "other settings out"));
    const auto table = loadPictureCube(options.cube);
    if (!table)
        return failed(table.error());
    RenderRequest request;
    request.folder = options.folder;
    request.name = options.name;
    request.overwrite = options.overwrite;
    const auto jobs = renderJobs(images, request, true);
    if (!jobs)
        return failed(jobs.error());
    int status = Done;
    for (const auto &job : *jobs) {
        const auto made = throughTable(*table, {job.image, job.file, options.overwrite, options.assume});
        if (!made) {
            status = std::max(status, failed(made.error()));
            continue;
        }
        for (const auto &remark : *made)
            tell(words::filled(remark, words::plain()));
        tell(job.file.string() + ": written");
    }
    return status;
}

int run(const RenderOptions &options)
{
    const auto named = filesNamed({options.images.begin(), options.images.end()});
    if (!named)
        return failed(named.error());
    std::vector<std::filesystem::path> images;
    for (const auto &file : *named)
        images.push_back(file.path);
    if (!options.cube.empty())
        return runThroughTable(options, images);
    const auto request = requestFrom(options);
    if (!request)
        return failed(request.error());
    const auto jobs = renderJobs(images, *request);
    if (!jobs)
        return failed(jobs.error());
    const auto source = PictureSource::open(request->asked());
    if (!source)
        return failed(source.error());
    int status = Done;
    for (const auto &job : *jobs)
        status = std::max(status, renderOne(job, *request, *source));
    return status;
}

} // namespace

Action addRender(CommandLine &app)
{
    const auto options = std::make_shared<RenderOptions>();
    app.option("IMAGE", options->images, "frames, or folders of them").required();
    app.option("--calibration", options->calibration, "the calibration");
    app.option("--job", options->job, "the job of these frames: each uses its calibration there");
    app.option("--cube", options->cube,
               "a table (.cube) that pictures (TIFF, PNG, JPEG) go through as they are; format, profile and "
               "metadata stay");
    app.option("--balance", options->balance, "a balance to use instead of the calibration's");
    app.option("--plan", options->plan, "a wavechroma.delivery/1, for --form");
    app.option("--form", options->form, "make the pictures as this form of the plan says");
    app.option("--flat", options->flat, "a flat frame, used to even the light");
    app.option(
        "--crop", options->crop,
        "x,y,width,height[,degrees] in pixels of the upright picture at full size, which is turned clockwise "
        "about the crop's middle first; or the four corners of a flat thing clockwise from the top left, as "
        "x1,y1 to "
        "x4,y4, and its width,height: the perspective is taken out");
    options->settings.addTo(app);
    app.option("--name", options->name, "file name without extension, for one picture");
    app.flag("--overwrite", options->overwrite, "replace existing files");
    app.flag("--any-camera", options->anyCamera, "also use a calibration of another camera or lens");
    app.option("--assume", options->assume,
               "colour space of pictures without a profile: srgb, display-p3, oprgb or romm");
    app.option("-o", options->folder, "output folder; it is made if needed").required();
    return [options] { return run(*options); };
}

} // namespace wavechroma::cli
