#include "core/tasks/look_task.h"

#include "core/tasks/read_task.h"

namespace wavechroma {

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
    out.levels = overviewLevelsOf(*frame, smallestBlock(*frame), progress);
    if (asItLeaves && out.frame->flat)
        for (auto &level : out.levels)
            evenOut(level, *out.frame->flat);
    out.exposure = frameLevels(*frame, progress);
    if (const auto whole = stillWhole(*frame); !whole)
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

Result<DisplayPicture> smallPicture(const std::filesystem::path &file, int longSide)
{
    const auto frame = openFrame(file);
    if (!frame)
        return frame.error();
    return displayPicture(*frame, displayColorOf(*frame),
                          std::max(1, std::max(frame->width, frame->height) / longSide));
}

} // namespace wavechroma
