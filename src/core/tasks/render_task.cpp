#include "core/tasks/render_task.h"

#include "core/base/said.h"
#include "core/measure/backdrop_field.h"
#include "core/raw/open_frame.h"
#include "core/tasks/form_calibrations.h"
#include "core/tasks/read_task.h"
#include "core/tasks/refusals.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <set>
#include <sys/stat.h>
#include <system_error>

namespace wavechroma {

namespace fs = std::filesystem;

/// The device and number of a file that is there.
static std::optional<std::pair<dev_t, ino_t>> identityOf(const fs::path &file)
{
    struct stat info
    {
    };
    return ::stat(file.c_str(), &info) == 0 ? std::optional(std::pair(info.st_dev, info.st_ino))
                                            : std::nullopt;
}

Result<std::vector<RenderJob>> renderJobs(const std::vector<fs::path> &images, const RenderRequest &request,
                                          bool keepExtension)
{
    if (!request.name.empty() && (images.size() != 1 || request.name.find('/') != request.name.npos))
        return unusable("--name is a file name without extension, for one picture");
    std::set<std::pair<dev_t, ino_t>> inputs;
    for (const auto &image : images)
        if (const auto identity = identityOf(image))
            inputs.insert(*identity);
    std::set<fs::path> taken;
    std::vector<RenderJob> out;
    for (const auto &image : images) {
        const auto extension =
            keepExtension ? image.extension().string() : std::string(extensionOf(request.settings.format));
        const auto stem = request.name.empty() ? image.stem().string() : request.name;
        auto name = request.folder / (stem + extension);
        for (int number = 2; taken.count(name); ++number)
            name = request.folder / fmt::format("{}-{}{}", stem, number, extension);
        taken.insert(name);
        std::error_code code;
        if (const auto there = identityOf(name); there && inputs.contains(*there))
            return unusable("{file}: would be replaced while it is read. Give another folder",
                            {{"file", name.string()}});
        if (!request.overwrite && fs::exists(fs::symlink_status(name, code)))
            return unusable("{file}: exists already and is not replaced", {{"file", name.string()}});
        out.push_back({image, name});
    }
    return out;
}

/// An estimate, and said to be one; where nothing can be told, the falloff stays.
static Result<RawFrame> evenedByBackdrop(RawFrame frame, std::vector<words::Phrase> &remarks)
{
    const auto field = backdropFieldFrom(frame);
    if (!field) {
        remarks.push_back(field.error().phrase);
        return frame;
    }
    remarks.push_back(
        {words::said("{file}: a falloff of {falloff:%} is taken out by the backdrop, an estimate. A flat "
                     "says it exactly."),
         {{"file", frame.path}, {"falloff", field->quality.falloff}}});
    frame.flat = std::make_shared<GainMap>(field->map);
    return frame;
}

static double amountOf(const ChartAmount &asked, double byChart)
{
    return asked.by == ChartAmount::By::Chart ? byChart : asked.number;
}

/// With the frame's own crop: the form's, else the job's.
static Result<RenderRequest> withOwnCrop(const RenderJob &job, RenderRequest request,
                                         const PictureSource &source)
{
    if (request.crop || request.job.empty())
        return request;
    const auto row = source.rowOf(job.image);
    if (!row)
        return row.error();
    const auto own = request.crops.find((*row)->path);
    request.crop = own != request.crops.end() ? std::optional(own->second) : (*row)->crop;
    return request;
}

Result<RenderedPicture> renderPicture(const RenderJob &job, const RenderRequest &asked,
                                      const PictureSource &source, const Progress &progress)
{
    const auto cropped = withOwnCrop(job, asked, source);
    if (!cropped)
        return cropped.error();
    const auto &request = *cropped;
    const auto serves = source.servesFor(job.image);
    const bool isAsTheJobHasIt = request.colour == FormColour{} || (serves && !serves->isServed);
    if (!serves || isAsTheJobHasIt)
        return serves ? renderPicture(job, request, *serves, progress) : serves.error();
    const auto row = source.rowOf(job.image);
    if (!row)
        return row.error();
    FormCalibrations calibrations(source);
    if (const auto balance = calibrations.balanceOf(request.colour); !balance)
        return balance.error();
    if (calibrations.isPresetOfAnother(request.colour, (*row)->camera))
        return unusable("{file}: the form's white balance preset is of another camera",
                        {{"file", job.image.string()}});
    if (const auto inForm = calibrations.serves(request.colour, **row, *serves))
        return renderPicture(job, request, *inForm, progress);
    RenderedPicture out;
    out.file = job.file;
    out.fitsItsForm = false;
    return out;
}

Result<RenderedPicture> renderPicture(const RenderJob &job, const RenderRequest &request,
                                      const PictureServes &serves, const Progress &progress)
{
    const auto &settings = request.settings;
    const bool atChartLevel = settings.level == PictureLevel::Chart;
    RenderedPicture out;
    out.file = job.file;
    out.isServed = serves.isServed;
    out.doubts = serves.doubts;
    if (serves.doubtOfLevel && atChartLevel)
        out.doubts.push_back(*serves.doubtOfLevel);
    if (serves.fault)
        return *serves.fault;
    if (!out.isServed)
        return out;
    const auto opened = openFrame(job.image, request.assume);
    if (!opened)
        return opened.error();
    if (!request.anyCamera)
        if (const auto other = refusedStation(serves.calibration, opened->camera, job.image.string()))
            return unusable(*other);
    if (serves.balance && serves.balance->preset)
        if (const auto other = doubtedPreset(*serves.balance, opened->fileColor, job.image.string()))
            out.remarks.push_back(*other);
    if (serves.isByItself && !serves.balance) // in a job the rule asks
        if (const auto other = doubtedLight(serves.calibration, opened->fileColor, job.image.string()))
            out.remarks.push_back(*other);
    if (!opened->assumedSpace.empty())
        out.remarks.push_back({words::said("{file}: has no profile and is read as {space}"),
                               {{"file", job.image.string()}, {"space", opened->assumedSpace}}});
    if (opened->mosaic && !hasBayerMosaic(*opened))
        out.remarks.push_back(
            {opened->mosaic->isOfLibrary
                 ? words::said(
                       "{file}: its filter is not a Bayer filter. It is demosaiced by the raw library.")
                 : words::said(
                       "{file}: its filter is not a Bayer filter. It is demosaiced from means of neighbours, "
                       "which is softer."),
             {{"file", job.image.string()}}});
    const auto frame = settings.evenBackdrop && serves.flats.empty() ? evenedByBackdrop(*opened, out.remarks)
                                                                     : evened(*opened, serves, out.remarks);
    if (!frame)
        return frame.error();
    RenderPlan plan = renderPlan(*frame, serves, rgbSpace(settings.space), atChartLevel);
    plan.longSide = settings.longSide.value_or(0);
    plan.finish.calmColour = settings.calmColour;
    plan.finish.edgeSpread = std::min(amountOf(settings.sharpen, serves.edgeSpread), kMostEdgeSpread);
    plan.distortion =
        std::clamp(amountOf(settings.straighten, serves.distortion), -kMostDistortion, kMostDistortion);
    if (settings.sharpen.by == ChartAmount::By::Chart && serves.edgeSpread == 0)
        out.remarks.push_back(
            {words::said(
                 "{file}: the sharpness of its chart was not measured, so the picture is not sharpened"),
             {{"file", job.image.string()}}});
    if (atChartLevel && !exposureAgainstChart(frame->camera, serves))
        out.remarks.push_back(
            {words::said("{file}: its exposure or the chart's is unknown, so its level stays as shot"),
             {{"file", job.image.string()}}});
    const auto uncut = wholeSizeOf(*frame, {});
    if (request.crop && !isWithin(*request.crop, uncut.width, uncut.height))
        return unusable(
            "{file}: a corner of the crop lies outside the picture, which is {width} × {height} "
            "pixels, or its corners do not run clockwise from the top left",
            {{"file", job.image.string()}, {"width", double(uncut.width)}, {"height", double(uncut.height)}});
    plan.crop = request.crop;
    const auto cut = wholeSizeOf(*frame, plan);
    if (settings.longSide.value_or(0) > std::max(cut.width, cut.height))
        out.remarks.push_back({words::said("{file}: has fewer pixels than requested and is not enlarged"),
                               {{"file", job.image.string()}}});
    out.size = sizeOf(*frame, plan);
    PictureFacts facts{settings.format, out.size.width, out.size.height, plan.space, frame->camera};
    facts.pixelsPerInch = settings.pixelsPerInch ? *settings.pixelsPerInch
                                                 : serves.pixelsPerInch * enlargementBy(plan.distortion) *
                                                       out.size.width / cut.width;
    facts.deflate = settings.deflate;
    facts.quality = settings.quality;
    std::error_code code;
    fs::create_directories(request.folder, code);
    if (code)
        return unusable("{file}: cannot be made: {why}",
                        {{"file", request.folder.string()}, {"why", code.message()}});
    auto file = PictureFile::begin(job.file, facts, request.overwrite);
    if (!file)
        return file.error();
    const auto made = render(
        *frame, plan, [&](const uint16_t *codes, int rows) { return (*file)->add(codes, rows); }, progress);
    if (const auto whole = stillWhole(*frame); !whole) // or the picture is not the file's
        return whole.error();
    if (!made)
        return made.error();
    const auto finished = (*file)->finish();
    return finished ? Result<RenderedPicture>(out) : finished.error();
}

} // namespace wavechroma
