#include "cli/command.h"
#include "core/base/number_text.h"
#include "core/tasks/render_task.h"
#include "core/words/answer_words.h"

#include <algorithm>
#include <cmath>
#include <cstdio>

namespace wavechroma::cli {

namespace {

struct RenderOptions
{
    std::vector<std::string> images;
    std::string calibration, job, level = "as-shot", balance, flat, space = "srgb", format = "tiff16",
                                  assume = "srgb", folder;
    std::string sharpen, straighten, name;
    int longSide = 0, quality = 95;
    double pixelsPerInch = 0;
    bool calmColour = false, deflate = false, overwrite = false, anyCamera = false;
};

/// Sharpening, colour noise and distortion.
Result<wavechroma::Done> readFinish(const RenderOptions &options, RenderRequest &out)
{
    const bool asChart = options.sharpen == "chart", asCharts = options.straighten == "charts";
    if (options.job.empty() && (asChart || asCharts))
        return unusable("--sharpen chart and --straighten charts ask a job's charts; give --job, or numbers");
    out.calmColour = options.calmColour;
    const auto spread = options.sharpen.empty() ? 0 : asChart ? -1 : numberFrom(options.sharpen).value_or(99);
    if (!options.sharpen.empty() && !asChart && !(spread >= 0.2 && spread <= kMostEdgeSpread))
        return unusable("\"{text}\" is no edge spread: 0.2 to 2.5 pixels, or chart",
                        {{"text", options.sharpen}});
    out.edgeSpread = spread;
    const auto bend =
        options.straighten.empty() || asCharts ? 0 : numberFrom(options.straighten).value_or(99);
    if (!(std::abs(bend) <= kMostDistortion))
        return unusable("\"{text}\" is no distortion: -0.3 (barrel) to 0.3, or charts",
                        {{"text", options.straighten}});
    out.distortion = bend;
    out.straighten = asCharts;
    return wavechroma::Done{};
}

Result<RenderRequest> requestFrom(const RenderOptions &options)
{
    if (options.calibration.empty() == options.job.empty())
        return unusable("give either --calibration or --job: what the pictures are rendered by");
    if (options.level != "as-shot" && options.level != "chart")
        return unusable("\"{level}\" is no level: as-shot or chart", {{"level", options.level}});
    RenderRequest out;
    out.calibration = options.calibration;
    out.job = options.job;
    out.atChartLevel = options.level == "chart";
    out.balance = options.balance;
    out.flat = options.flat;
    out.space = options.space;
    out.format = options.format;
    out.pixelsPerInch = options.pixelsPerInch;
    out.longSide = options.longSide;
    if (const auto finish = readFinish(options, out); !finish)
        return finish.error();
    out.deflate = options.deflate;
    out.quality = options.quality;
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
        tell(job.image.string() + ": no calibration of the job serves it");
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

int run(const RenderOptions &options)
{
    const auto request = requestFrom(options);
    if (!request)
        return failed(request.error());
    const auto jobs = renderJobs({options.images.begin(), options.images.end()}, *request);
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
    app.option("IMAGE", options->images, "frames").required();
    app.option("--calibration", options->calibration, "what they are rendered by");
    app.option("--job", options->job, "a job whose frames they are: each by what serves it there");
    app.option("--level", options->level,
               "as-shot keeps differences of exposure; chart takes each to its chart's");
    app.option("--balance", options->balance, "a balance in place of the calibration's");
    app.option("--flat", options->flat, "a flat frame: the light's falloff is taken out");
    app.option("--space", options->space, "srgb, display-p3, oprgb or romm");
    app.option("--format", options->format, "tiff16, png16 or jpeg");
    app.option("--ppi", options->pixelsPerInch,
               "pixels per inch written into the files; in a job by the chart's size")
        .between(1.0, 100000.0);
    app.option("--long-side", options->longSide, "pixels of the longer side; frames are never enlarged")
        .between(1, 100000);
    app.option("--sharpen", options->sharpen,
               "undo a blur of so many pixels (an edge's standard deviation), or chart: as the job's chart "
               "shows it");
    app.flag("--calm-colour", options->calmColour, "smooth colour noise away");
    app.option("--straighten", options->straighten,
               "take a lens distortion out: -0.3 (barrel) to 0.3, or charts: as the job's charts show it");
    app.option("--quality", options->quality, "of JPEG").between(1, 100);
    app.option("--name", options->name, "of the file, without extension, where there is one picture");
    app.flag("--deflate", options->deflate, "pack TIFF without loss");
    app.flag("--overwrite", options->overwrite, "replace files that are there");
    app.flag("--any-camera", options->anyCamera, "a calibration of another camera or lens, too");
    app.option("--assume", options->assume,
               "what pictures without a colour profile are in: srgb, display-p3, oprgb or romm");
    app.option("-o", options->folder, "the folder that the pictures go to; it is made").required();
    return [options] { return run(*options); };
}

} // namespace wavechroma::cli
