#pragma once
#include "core/capture/frame_levels.h"
#include "core/fit/calibration.h"
#include "core/raw/overview.h"
#include "core/render/display_picture.h"
#include "core/render/screen.h"
#include "core/render/true_pixels.h"
#include "core/tasks/picture_source.h"

#include <filesystem>

/// A frame opened for looking at and measuring.
namespace wavechroma {

struct OpenedFrame
{
    std::shared_ptr<const RawFrame> frame; ///< evened where its reading was
    /// Pyramid of the file's own samples, see overviewLevelsOf(). The first, largest one is empty as long as
    /// only the sizes that a whole frame is seen at were made.
    std::vector<Overview> levels;
    FrameLevels exposure; ///< of the same; empty until then
};
/// What a frame is first seen by. `asItLeaves`: its levels are evened too, as a finished picture is; else
/// they are the file's own light.
[[nodiscard]] Result<OpenedFrame> openToLook(const std::filesystem::path &file,
                                             const std::vector<std::filesystem::path> &flats,
                                             const Progress &progress = {}, bool asItLeaves = false);
/// Returns the frame with all that is left out at first: the largest size, and what is clipped.
[[nodiscard]] Result<OpenedFrame> openedWhole(const OpenedFrame &opened, const Progress &progress = {},
                                              bool asItLeaves = false);

/// The picture that a raw file holds of itself, for an sRGB screen or another; see embeddedPicture(): in
/// whole or, where it is longer than `longSide`, in block means. `beside`: the picture of the same release in
/// a file of its own, which is shown instead where it lies as the raw frame does (`orientation`); empty:
/// none.
[[nodiscard]] Result<DisplayPicture> filesOwnPicture(const std::filesystem::path &file, int longSide,
                                                     const Screen *screen = nullptr,
                                                     const std::filesystem::path &beside = {},
                                                     int orientation = 1);

/// What a frame is shown by: a calibration, with a balance chosen for the frame in place of its own; else the
/// file's own colour.
[[nodiscard]] DisplayColor shownBy(const RawFrame &frame, const ColorModel *model,
                                   const std::optional<Vector3> &multipliers, const Screen *screen = nullptr);

/// Returns the colours of the finished picture: through what serves it, with its balance and level.
[[nodiscard]] DisplayColor shownBy(const RawFrame &frame, const PictureServes &serves,
                                   const Screen *screen = nullptr);

/// A small picture of a frame, or of any picture file, by the file's own colour, at most about `longSide`
/// pixels. `orientation`: the file's EXIF flag.
[[nodiscard]] Result<DisplayPicture> smallPicture(const std::filesystem::path &file, int longSide,
                                                  int *orientation = nullptr);

} // namespace wavechroma
