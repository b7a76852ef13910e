#include "core/tasks/look_task.h"

#include "core/raw/embedded_picture.h"
#include "core/raw/open_frame.h"
#include "core/raw/overview.h"
#include "core/tasks/read_task.h"

namespace wavechroma {

namespace {

void evenLevels(OpenedFrame &opened, bool asItLeaves)
{
    if (asItLeaves && opened.frame->evening())
        for (auto &level : opened.levels)
            evenOut(level, *opened.frame->evening());
}

} // namespace

Result<OpenedFrame> openToLook(const std::filesystem::path &file,
                               const std::vector<std::filesystem::path> &flats, const Progress &progress,
                               bool asItLeaves)
{
    const auto frame = openFrame(file);
    if (!frame)
        return frame.error();
    const auto even = flats.empty() ? frame : withFlats(*frame, flats);
    OpenedFrame out;
    out.frame = std::make_shared<RawFrame>(even ? *even : *frame);
    out.levels = overviewLevelsOf(*out.frame, 2 * smallestBlock(*out.frame), progress);
    evenLevels(out, asItLeaves);
    out.levels.insert(out.levels.begin(), Overview{});
    out.levels.front().block = smallestBlock(*out.frame);
    return out;
}

Result<OpenedFrame> openedWhole(const OpenedFrame &opened, const Progress &progress, bool asItLeaves)
{
    auto out = opened;
    out.levels = overviewLevelsOf(*out.frame, smallestBlock(*out.frame), progress);
    evenLevels(out, asItLeaves);
    out.exposure = frameLevels(*out.frame, progress);
    if (const auto whole = stillWhole(*out.frame); !whole)
        return whole.error();
    return out;
}

DisplayColor shownBy(const RawFrame &frame, const ColorModel *model,
                     const std::optional<Vector3> &multipliers, const Screen *screen)
{
    if (!model)
        return displayColorOf(frame, screen);
    ColorModel shown = *model;
    if (multipliers)
        shown.multipliers = *multipliers;
    return displayColorOf(shown, screen);
}

DisplayColor shownBy(const RawFrame &frame, const PictureServes &serves, const Screen *screen)
{
    auto models = modelsOf(frame, serves);
    for (auto &[weight, model] : models.parts)
        model.exposureScale *= serves.level;
    return displayColorOf(models, screen);
}

Result<DisplayPicture> filesOwnPicture(const std::filesystem::path &file, int longSide, const Screen *screen,
                                       const std::filesystem::path &beside, int orientation)
{
    auto frame = beside.empty() ? Result<RawFrame>(unusable("")) : openFrame(beside);
    if (!frame || frame->orientation != orientation)
        frame = embeddedPicture(file);
    if (!frame)
        return frame.error();
    int block = 1;
    while (std::max(frame->width, frame->height) / block > longSide)
        block *= 2;
    return displayPicture(*frame, displayColorOf(*frame, screen), block);
}

Result<DisplayPicture> smallPicture(const std::filesystem::path &file, int longSide, int *orientation)
{
    const auto frame = openFrame(file);
    if (!frame)
        return frame.error();
    if (orientation)
        *orientation = frame->orientation;
    return displayPicture(*frame, displayColorOf(*frame),
                          std::max(1, std::max(frame->width, frame->height) / longSide));
}

} // namespace wavechroma
