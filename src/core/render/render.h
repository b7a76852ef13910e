#pragma once
#include "core/base/progress.h"
#include "core/color/rgb_space.h"
#include "core/fit/two_lights.h"
#include "core/raw/raw_frame.h"
#include "core/render/straighten.h"
#include "core/values/picture_crop.h"

#include <functional>
#include <optional>

namespace wavechroma {

/// What is to become of a frame.
struct RenderPlan
{
    ModelBlend models; ///< of one light: one, of weight 1
    RgbSpace space;
    double level = 1;                     ///< light is multiplied by it, beside the models' own scale
    Finish finish = {};                   ///< its noise is found where it is needed
    double distortion = 0;                ///< of the lens, to be taken out; up to kMostDistortion
    std::optional<PictureCrop> crop = {}; ///< within the upright picture, straightened or not
    int longSide = 0;   ///< of the result, in pixels; never enlarged; 0: every pixel of the frame
    int bandRows = 128; ///< rows made at a time; the result is the same for any
};

struct PictureSize
{
    int width = 0, height = 0;
};
/// Returns the size of the upright picture, or of what is cut out of it, before it is made smaller.
[[nodiscard]] PictureSize wholeSizeOf(const RawFrame &frame, const RenderPlan &plan);
/// That, smaller if the plan asks for it.
[[nodiscard]] PictureSize sizeOf(const RawFrame &frame, const RenderPlan &plan);

/// Takes rows of the upright picture, in order: width × 3 codes of 16 bits each, in the space's own transfer.
using RowSink = std::function<Result<Done>(const uint16_t *codes, int rows)>;

/// Frame → finished pixels: black, flat (where the frame has one), balance, demosaic, clipped areas kept
/// neutral, what finish, distortion and crop ask for, scale, models, space, size, transfer. Colours outside
/// the space are clipped. Bands of rows are made side by side and handed on in order; codes are the same to
/// the bit whatever the number of threads and the size of bands. The frame itself is not copied.
///
/// An error of the sink ends it and is handed on; so does being stopped, which leaves an error behind.
[[nodiscard]] Result<Done> render(const RawFrame &frame, const RenderPlan &plan, const RowSink &sink,
                                  const Progress &progress = {});

} // namespace wavechroma
