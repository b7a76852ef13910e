#pragma once
#include "core/chart/chart_geometry.h"
#include "core/values/job_rows.h"

#include <array>
#include <optional>

/// Crops as hands draw them: points lie on the frame as its file has it, crops on the upright picture.
/// Whatever is drawn is drawn in until nothing of it lies outside the picture.
namespace wavechroma {

/// Between two corners that lie across from each other; the picture stays turned as it is. Nothing where they
/// are less than a pixel apart.
[[nodiscard]] std::optional<PictureCrop> cropBetween(const JobFrame &frame, const PixelPoint &from,
                                                     const PixelPoint &to);
/// The frame's crop, or all of it, turned so that the line lies level, or upright, whichever is nearer.
/// Nothing for a line of less than a pixel.
[[nodiscard]] std::optional<PictureCrop> cropLevelled(const JobFrame &frame, const PixelPoint &from,
                                                      const PixelPoint &to);
/// By the corners of a flat thing, top left, top right and bottom right as they stand in the picture: it lies
/// square in what is delivered.
[[nodiscard]] std::optional<PictureCrop> cropByCorners(const JobFrame &frame,
                                                       const std::array<PixelPoint, 3> &corners);
/// The frame's crop, or all of it, drawn in about its middle to width over height.
[[nodiscard]] PictureCrop cropToRatio(const JobFrame &frame, double ratio);
/// Does it lie within the upright picture?
[[nodiscard]] bool fitsOn(const JobFrame &frame, const PictureCrop &crop);
/// Where its corners lie on the frame, to be drawn.
[[nodiscard]] Corners cornersOnFrame(const JobFrame &frame, const PictureCrop &crop);
/// "4:5", "4x5", "1.25" → width over height; nothing for any other text.
[[nodiscard]] std::optional<double> ratioFrom(const std::string &text);

} // namespace wavechroma
