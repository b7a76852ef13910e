#include "core/tasks/render_task.h"

#include "core/tasks/read_task.h"
#include "core/tasks/refusals.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <set>

namespace wavechroma {

namespace fs = std::filesystem;

Result<std::vector<RenderJob>> renderJobs(const std::vector<fs::path> &images, const RenderRequest &request)
{
    const auto format = pictureFormatFrom(request.format);
    if (!format)
        return unusable("\"{format}\" is no format: tiff16, png16 or jpeg", {{"format", request.format}});
    if (!rgbSpaceFromId(request.space))
        return unusable("\"{space}\" is no space: srgb, display-p3, oprgb or romm",
                        {{"space", request.space}});
    if (!request.name.empty() && (images.size() != 1 || request.name.find('/') != request.name.npos))
        return unusable("--name is a file name without extension, for one picture");
    std::set<fs::path> taken;
    std::vector<RenderJob> out;
    for (const auto &image : images) {
        const auto stem = request.name.empty() ? image.stem().string() : request.name;
        auto name = request.folder / (stem + extensionOf(*format));
        for (int number = 2; taken.count(name); ++number)
            name = request.folder / fmt::format("{}-{}{}", stem, number, extensionOf(*format));
        taken.insert(name);
        std::error_code code;
        if (fs::equivalent(name, image, code))
            return unusable("{file}: would be written over while it is read; give another folder",
                            {{"file", name.string()}});
        if (!request.overwrite && fs::exists(fs::symlink_status(name, code)))
            return unusable("{file}: is there already and is not replaced", {{"file", name.string()}});
        out.push_back({image, name});
    }
    return out;
}

Result<RenderedPicture> renderPicture(const RenderJob &job, const RenderRequest &request,
                                      const PictureSource &source, const Progress &progress)
{
    const auto serves = source.servesFor(job.image);
    return serves ? renderPicture(job, request, *serves, progress) : serves.error();
}

Result<RenderedPicture> renderPicture(const RenderJob &job, const RenderRequest &request,
                                      const PictureServes &serves, const Progress &progress)
{
    RenderedPicture out;
    out.file = job.file;
    out.isServed = serves.isServed;
    out.doubts = serves.doubts;
    if (serves.doubtOfLevel && request.atChartLevel)
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
    if (!opened->assumedSpace.empty())
        out.remarks.push_back({"{file}: has no profile: taken as {space}",
                               {{"file", job.image.string()}, {"space", opened->assumedSpace}}});
    if (opened->mosaic && !hasBayerMosaic(*opened))
        out.remarks.push_back(
            {opened->mosaic->isOfLibrary
                 ? "{file}: its filter is not Bayer's. Demosaiced by the raw library."
                 : "{file}: its filter is not Bayer's. Demosaiced by means of neighbours, which is softer.",
             {{"file", job.image.string()}}});
    const auto frame = evened(*opened, serves, out.remarks);
    if (!frame)
        return frame.error();
    RenderPlan plan = renderPlan(*frame, serves, *rgbSpaceFromId(request.space), request.atChartLevel);
    plan.longSide = request.longSide;
    plan.finish.calmColour = request.calmColour;
    plan.finish.edgeSpread =
        std::min(request.edgeSpread < 0 ? serves.edgeSpread : request.edgeSpread, kMostEdgeSpread);
    plan.distortion = std::clamp(request.straighten ? serves.distortion : request.distortion,
                                 -kMostDistortion, kMostDistortion);
    if (request.edgeSpread < 0 && serves.edgeSpread == 0)
        out.remarks.push_back({"{file}: how sharp its chart is was not measured, so nothing is sharpened",
                               {{"file", job.image.string()}}});
    if (request.atChartLevel && !exposureAgainstChart(frame->camera, serves))
        out.remarks.push_back({"{file}: its exposure or the chart's is not known, so the level stays as shot",
                               {{"file", job.image.string()}}});
    if (request.longSide > std::max(frame->width, frame->height))
        out.remarks.push_back(
            {"{file}: has fewer pixels than asked for and is not enlarged", {{"file", job.image.string()}}});
    out.size = sizeOf(*frame, plan);
    PictureFacts facts{*pictureFormatFrom(request.format), out.size.width, out.size.height, plan.space,
                       frame->camera};
    facts.pixelsPerInch = request.pixelsPerInch > 0
                              ? request.pixelsPerInch
                              : serves.pixelsPerInch * enlargementBy(plan.distortion) * out.size.width /
                                    (frame->orientation >= 5 ? frame->height : frame->width);
    facts.deflate = request.deflate;
    facts.quality = request.quality;
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
