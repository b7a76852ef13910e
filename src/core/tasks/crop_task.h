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
/// By the corners of a flat thing, clockwise from its top left one as they stand in the picture: it lies
/// square in what is delivered, its perspective taken out. Of a thing seen at a slant the ratio of its sides
/// is told with the lens' own length from how its sides run together (Zhang and He 2007, "Whiteboard scanning
/// and image enhancement", equations 11, 14 and 20, the picture's middle for the lens' axis); where they run
/// together in one direction only, that length cannot be told and one of 1.2 long sides is taken:
/// cropToRatio() says the ratio then. Nothing where the corners do not run clockwise round something convex
/// within the picture.
[[nodiscard]] std::optional<PictureCrop> cropByCorners(const JobFrame &frame, const Corners &corners);
/// The frame's crop, or all of it, drawn in about its middle to width over height; of a flat thing squared by
/// its corners, stretched to it.
[[nodiscard]] PictureCrop cropToRatio(const JobFrame &frame, double ratio);
/// Does it lie within the upright picture?
[[nodiscard]] bool fitsOn(const JobFrame &frame, const PictureCrop &crop);
/// Where its corners lie on the frame, to be drawn.
[[nodiscard]] Corners cornersOnFrame(const JobFrame &frame, const PictureCrop &crop);
/// "4:5", "4x5", "1.25" → width over height; nothing for any other text.
[[nodiscard]] std::optional<double> ratioFrom(const std::string &text);

} // namespace wavechroma
